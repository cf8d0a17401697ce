//! Whether a type takes more or less than another, as far as the two tell.

use serde_json::Value as Json;

use crate::surface::Type;

/// What became of a type.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Widened {
    /// It takes the same.
    Same,
    /// It takes all that it took, and more.
    More,
    /// It takes less, and nothing new.
    Less,
    /// It takes something else, or nobody can tell.
    Other,
}

/// What became of the first when the second took its place.
pub fn widened(before: &Type, after: &Type) -> Widened {
    if before == after {
        return Widened::Same;
    }
    match (takes(after, before), takes(before, after)) {
        (true, true) => Widened::Same,
        (true, false) => Widened::More,
        (false, true) => Widened::Less,
        (false, false) => Widened::Other,
    }
}

/// Whether a type takes every value of another.
fn takes(wide: &Type, narrow: &Type) -> bool {
    match (wide, narrow) {
        (a, b) if a == b => true,
        // What the framework renders holds texts and numbers.
        (Type::Node, Type::String | Type::Number | Type::Boolean) => true,
        (Type::Node, Type::Union { .. }) => true,
        (_, Type::Either { of }) => of.iter().all(|t| takes(wide, t)),
        (Type::Either { of }, Type::Union { of: members }) => {
            members.iter().all(|m| of.iter().any(|t| takes(t, &Type::Union { of: vec![m.clone()] })))
        }
        (Type::Either { of }, _) => of.iter().any(|t| takes(t, narrow)),
        (Type::Union { of: wide }, Type::Union { of: narrow }) => narrow.iter().all(|m| wide.contains(m)),
        (Type::Union { of }, Type::Boolean) => of.contains(&Json::Bool(true)) && of.contains(&Json::Bool(false)),
        (Type::String, Type::Union { of }) => of.iter().all(Json::is_string),
        (Type::Number, Type::Union { of }) => of.iter().all(Json::is_number),
        (Type::Boolean, Type::Union { of }) => of.iter().all(Json::is_boolean),
        (Type::Array { of: wide }, Type::Array { of: narrow }) => takes(wide, narrow),
        (Type::Array { of: wide }, Type::Tuple { of: narrow }) => narrow.iter().all(|n| takes(wide, n)),
        (Type::Tuple { of: wide }, Type::Tuple { of: narrow }) => {
            wide.len() == narrow.len() && wide.iter().zip(narrow).all(|(w, n)| takes(w, n))
        }
        (Type::Object { fields: wide }, Type::Object { fields: narrow }) => {
            wide.iter().all(|field| match narrow.iter().find(|n| n.name == field.name) {
                Some(n) => takes(&field.ty, &n.ty) && (n.required || !field.required),
                None => !field.required,
            })
        }
        _ => false,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::surface::Field;

    #[test]
    fn more_and_less() {
        let union = |of: &[&str]| Type::Union { of: of.iter().map(|m| Json::from(*m)).collect() };
        let either = |of: &[Type]| Type::Either { of: of.to_vec() };
        let object = |required: bool| Type::Object { fields: vec![Field { name: "a".into(), ty: Type::String, required }] };
        for (before, after, expected) in [
            (Type::String, Type::String, Widened::Same),
            (union(&["a"]), union(&["a", "b"]), Widened::More),
            (union(&["a", "b"]), union(&["b"]), Widened::Less),
            (union(&["a", "b"]), union(&["b", "a"]), Widened::Same),
            (union(&["a"]), Type::String, Widened::More),
            (Type::String, Type::Number, Widened::Other),
            (Type::String, either(&[Type::Number, Type::String]), Widened::More),
            (either(&[Type::Number, Type::String]), Type::Number, Widened::Less),
            (object(true), object(false), Widened::More),
            (object(false), object(true), Widened::Less),
            (Type::Array { of: Box::new(Type::String) }, Type::Array { of: Box::new(Type::Node) }, Widened::More),
        ] {
            assert_eq!(widened(&before, &after), expected, "{before} → {after}");
        }
    }
}
