//! Values of properties of CSS as types. The package that most frameworks take them from declares each as hundreds of words and any text
//! beside them: what tells something about a component are a few words of each, and that it takes others as well.

use serde_json::Value as Json;

use crate::ty::Ty;

/// Properties that take words of their own, with some of them (CSS Display, Position, Text, Flexbox, Overflow, UI).
const WORDS: [(&str, &[&str]); 22] = [
    ("alignContent", &["center", "start"]),
    ("alignItems", &["center", "start"]),
    ("alignSelf", &["center", "start"]),
    ("borderStyle", &["solid", "dashed"]),
    ("cursor", &["pointer", "default"]),
    ("display", &["block", "inline-flex"]),
    ("flexDirection", &["row", "column"]),
    ("flexWrap", &["wrap", "nowrap"]),
    ("float", &["left", "right"]),
    ("fontStyle", &["normal", "italic"]),
    ("justifyContent", &["center", "space-between"]),
    ("objectFit", &["cover", "contain"]),
    ("overflow", &["hidden", "auto"]),
    ("overflowX", &["hidden", "auto"]),
    ("overflowY", &["hidden", "auto"]),
    ("position", &["relative", "absolute"]),
    ("textAlign", &["left", "center"]),
    ("textTransform", &["uppercase", "none"]),
    ("userSelect", &["none", "text"]),
    ("visibility", &["visible", "hidden"]),
    ("whiteSpace", &["nowrap", "normal"]),
    ("wordBreak", &["break-all", "normal"]),
];

/// Properties that take numbers, for lengths or without a unit, by what their names end in.
const NUMBERS: [&str; 21] = [
    "width", "height", "gap", "inset", "margin", "padding", "top", "right", "bottom", "left", "start", "end", "block", "inline", "radius",
    "size", "weight", "index", "opacity", "order", "basis",
];

/// Those whose names alone say so.
const WHOLE: [&str; 3] = ["flex", "flexGrow", "flexShrink"];

/// What a property takes, by its name in scripts: `textAlign`, or as types are called, `TextAlign`.
pub(crate) fn value_of(property: &str) -> Ty {
    let mut chars = property.chars();
    let name: String = chars.next().into_iter().flat_map(char::to_lowercase).chain(chars).collect();
    let words = WORDS.iter().find(|(known, _)| *known == name).map_or(&[][..], |(_, words)| words);
    let last = name.rfind(char::is_uppercase).map_or(name.as_str(), |at| &name[at..]).to_lowercase();
    let takes_number = NUMBERS.contains(&last.as_str()) || WHOLE.contains(&name.as_str());
    let words = words.iter().map(|word| Ty::Literal(Json::from(*word)));
    Ty::one_of(words.chain([Ty::String]).chain(takes_number.then_some(Ty::Number)).collect::<Vec<_>>())
}
