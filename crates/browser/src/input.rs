//! Gestures of a person by the protocol's own input actions (WebDriver §15): what the browser's user would do, not what a script can.

use std::time::Duration;

use fantoccini::Client;
use fantoccini::actions::{InputSource, KeyAction, KeyActions, MOUSE_BUTTON_LEFT, MouseActions, PointerAction};
use serde::Deserialize;

/// What the page asks for.
#[derive(Debug, Deserialize)]
#[serde(tag = "kind", rename_all = "snake_case")]
pub(crate) enum Gesture {
    /// The pointer moves there.
    Move { x: f64, y: f64 },
    /// It moves there and presses.
    Press { x: f64, y: f64 },
    /// A key is pressed and let go; modifiers by the names of their event flags.
    Key { key: String, modifiers: Vec<String> },
}

impl Gesture {
    /// Makes it.
    ///
    /// # Errors
    /// What the remote end says.
    pub(crate) async fn make(self, hand: &Client) -> Result<(), String> {
        let made = match self {
            Self::Move { x, y } => hand.perform_actions(MouseActions::new("mouse".into()).then(to(x, y))).await,
            Self::Press { x, y } => {
                let down = PointerAction::Down { button: MOUSE_BUTTON_LEFT };
                let up = PointerAction::Up { button: MOUSE_BUTTON_LEFT };
                hand.perform_actions(MouseActions::new("mouse".into()).then(to(x, y)).then(down).then(up)).await
            }
            Self::Key { key, modifiers } => {
                let Some(value) = value(&key) else { return Err(format!("the key `{key}` is not known to the browser")) };
                let held: Vec<char> = modifiers.iter().filter_map(|m| modifier(m)).collect();
                let mut actions = KeyActions::new("keyboard".into());
                for value in &held {
                    actions = actions.then(KeyAction::Down { value: *value });
                }
                actions = actions.then(KeyAction::Down { value }).then(KeyAction::Up { value });
                for value in held.iter().rev() {
                    actions = actions.then(KeyAction::Up { value: *value });
                }
                hand.perform_actions(actions).await
            }
        };
        made.map_err(|e| e.to_string())
    }
}

fn to(x: f64, y: f64) -> PointerAction {
    PointerAction::MoveTo { duration: Some(Duration::ZERO), x, y }
}

fn modifier(flag: &str) -> Option<char> {
    Some(match flag {
        "shiftKey" => '\u{E008}',
        "ctrlKey" => '\u{E009}',
        "altKey" => '\u{E00A}',
        "metaKey" => '\u{E03D}',
        _ => return None,
    })
}

/// The character that stands for a key (WebDriver §15.4.2).
fn value(key: &str) -> Option<char> {
    let named = match key {
        "Backspace" => '\u{E003}',
        "Tab" => '\u{E004}',
        "Enter" => '\u{E007}',
        "Escape" => '\u{E00C}',
        "PageUp" => '\u{E00E}',
        "PageDown" => '\u{E00F}',
        "End" => '\u{E010}',
        "Home" => '\u{E011}',
        "ArrowLeft" => '\u{E012}',
        "ArrowUp" => '\u{E013}',
        "ArrowRight" => '\u{E014}',
        "ArrowDown" => '\u{E015}',
        "Insert" => '\u{E016}',
        "Delete" => '\u{E017}',
        _ => {
            let mut chars = key.chars();
            return chars.next().filter(|_| chars.next().is_none());
        }
    };
    Some(named)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn keys_have_the_characters_of_the_protocol() {
        for (key, wanted) in
            [("a", Some('a')), (" ", Some(' ')), ("Enter", Some('\u{E007}')), ("é", Some('é')), ("Shelf", None), ("", None)]
        {
            assert_eq!(value(key), wanted, "{key}");
        }
        let gesture: Gesture = serde_json::from_str(r#"{"kind":"key","key":"a","modifiers":["ctrlKey"]}"#).expect("reads");
        assert!(matches!(gesture, Gesture::Key { modifiers, .. } if modifiers == ["ctrlKey"]));
    }
}
