//! Values to observe a component with: few, and no two props with the same, so that what is shown tells which prop it is of.

use serde_json::json;

use crate::plan::{self, Domain};
use crate::surface::{Surface, Type};
use crate::value::Value;

const WORDS: [&str; 8] = ["Mug", "Bowl", "Vase", "Plate", "Teapot", "Saucer", "Beaker", "Jar"];
const NUMBERS: [i64; 8] = [7, 12, 31, 45, 58, 63, 76, 89];
/// Values of a prop that are no union: more are for a person to add.
const MOST: usize = 3;

/// What each prop and slot draws from.
///
/// # Errors
/// Required props whose type the source does not tell.
pub fn domains(surface: &Surface) -> Result<Vec<Domain>, Vec<String>> {
    let mut out = plan::declared(surface)?;
    for (i, domain) in out.iter_mut().enumerate() {
        match domain {
            Domain::Prop(name, values) => {
                let Some(prop) = surface.prop(name) else { continue };
                let plain = match &prop.ty {
                    Type::String => vec![Value::json(WORDS[i % WORDS.len()]), Value::json("")],
                    Type::Number => vec![Value::json(NUMBERS[i % NUMBERS.len()]), Value::Json(json!(0))],
                    Type::Union { .. } | Type::Boolean => continue,
                    _ => values.iter().filter(|v| **v != Value::Absent).take(MOST).cloned().collect(),
                };
                *values = values.iter().filter(|v| **v == Value::Absent).cloned().chain(plain).collect();
            }
            Domain::Slot(_, fills) => {
                *fills =
                    fills.iter().filter(|f| f.is_none()).cloned().chain([Some(format!("<em>{}</em>", WORDS[i % WORDS.len()]))]).collect();
            }
        }
    }
    // What is never passed shows nothing.
    out.retain(|d| !matches!(d, Domain::Prop(_, values) if values.iter().all(|v| *v == Value::Absent)));
    Ok(out)
}
