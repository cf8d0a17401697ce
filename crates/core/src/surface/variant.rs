//! Props that go together: `{ kind: 'one', value: number } | { kind: 'many', value: number[] }`.

use serde::{Deserialize, Serialize};

use super::{Prop, Type};
use crate::fits::fits;
use crate::value::Value;

/// One choice of a union of object types, as far as the choices differ. A prop in which choices differ and that is
/// not listed cannot be passed with it.
#[derive(Debug, Clone, PartialEq, Default, Serialize, Deserialize)]
pub struct Variant {
    /// The props that are another in other choices, or none.
    pub props: Vec<VariantProp>,
    /// True where a part of it could not be followed: it may have props that are not listed.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub open: bool,
}

/// A prop of a [`Variant`].
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize)]
pub struct VariantProp {
    /// Its name.
    pub name: String,
    /// Its type there.
    #[serde(rename = "type")]
    pub ty: Type,
    /// True when it must be passed.
    pub required: bool,
}

impl Variant {
    /// Whether a prop may have this value in this choice. `prop` is one in which the choices differ.
    pub fn admits(&self, prop: &Prop, value: &Value) -> bool {
        match self.props.iter().find(|p| p.name == prop.name) {
            Some(own) if *value == Value::Absent => !own.required,
            Some(own) => fits(value, &own.ty),
            None => self.open || *value == Value::Absent,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_choice_admits_what_it_declares() {
        let number = VariantProp { name: "value".into(), ty: Type::Number, required: true };
        let one = Variant { props: vec![number], open: false };
        let (value, most) = (Prop::new("value", Type::Number), Prop::new("most", Type::Number));
        assert!(one.admits(&value, &Value::json(3)) && !one.admits(&value, &Value::json("three")) && !one.admits(&value, &Value::Absent));
        assert!(one.admits(&most, &Value::Absent) && !one.admits(&most, &Value::json(3)), "it is not declared there");
        assert!(Variant { open: true, ..one }.admits(&most, &Value::json(3)), "it may be");
    }
}
