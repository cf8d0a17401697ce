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

/// What the names of properties end in that take numbers: lengths, and what has no unit.
const NUMBERS: [&str; 20] = [
    "width",
    "height",
    "margin",
    "padding",
    "gap",
    "inset",
    "top",
    "right",
    "bottom",
    "left",
    "radius",
    "fontSize",
    "fontWeight",
    "Index",
    "opacity",
    "flex",
    "Grow",
    "Shrink",
    "Basis",
    "order",
];

/// What a property takes, by its name in scripts: `textAlign`, or as types are called, `TextAlign`.
pub(crate) fn value_of(property: &str) -> Ty {
    let mut chars = property.chars();
    let name: String = chars.next().into_iter().flat_map(char::to_lowercase).chain(chars).collect();
    let words = WORDS.iter().find(|(known, _)| *known == name).map_or(&[][..], |(_, words)| words);
    let is_number = |end: &&&str| name == **end || name.to_lowercase().ends_with(&end.to_lowercase()) || name.starts_with(**end);
    let takes_number = NUMBERS.iter().find(is_number).is_some() && !name.ends_with("Style") && !name.ends_with("Color");
    let words = words.iter().map(|word| Ty::Literal(Json::from(*word)));
    Ty::one_of(words.chain([Ty::String]).chain(takes_number.then_some(Ty::Number)).collect::<Vec<_>>())
}
