//! From a place in the code that runs back to the place that a person wrote, map by map (ECMA-426).

use base64::Engine as _;
use oxc_sourcemap::SourceMap;

/// Follows `maps` from the last to the first: each leads one step nearer to the source. Lines and columns count from 1.
/// None where a map does not know: code that a compiler wrote without a person's.
pub fn original(maps: &[String], line: u32, column: u32) -> Option<(u32, u32)> {
    let mut at = (line, column);
    for text in maps.iter().rev() {
        let map = SourceMap::from_json_string(text).ok()?;
        let table = map.generate_lookup_table();
        let token = map.lookup_token(&table, at.0.saturating_sub(1), at.1.saturating_sub(1));
        let token = token.filter(|t| t.get_source_id().is_some())?;
        at = (token.get_src_line() + 1, token.get_src_col() + 1);
    }
    Some(at)
}

/// Where a place in code that was made as the page ran stands in the text that it was made of: that text, and the line and column in it, all
/// counted from 1. `map` is in base64, and brings its sources. None where they are not those of a person.
pub fn source_of_made(map: &str, line: u32, column: u32) -> Option<(String, u32, u32)> {
    let json = base64::engine::general_purpose::STANDARD.decode(map).ok()?;
    let map = SourceMap::from_json_string(std::str::from_utf8(&json).ok()?).ok()?;
    let table = map.generate_lookup_table();
    let token = map.lookup_token(&table, line.checked_sub(1)?, column.checked_sub(1)?)?;
    let text = map.get_source_content(token.get_source_id()?).filter(|text| !text.trim().is_empty())?;
    Some((text.to_string(), token.get_src_line() + 1, token.get_src_col() + 1))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn code_that_is_made_of_a_template_leads_back_to_it() {
        // The first source is the compiler's own.
        let json = r#"{"version":3,"file":"ng:///Bad.js","sources":["ng:///Bad.js","ng:///Bad/template.html"],"sourcesContent":[" ","<p>\n{{ a.b }}</p>"],"mappings":"AAAA;ACCA"}"#;
        let map = base64::engine::general_purpose::STANDARD.encode(json);
        assert_eq!(source_of_made(&map, 1, 5), None);
        assert_eq!(source_of_made(&map, 2, 1), Some(("<p>\n{{ a.b }}</p>".into(), 2, 1)));
        assert_eq!(source_of_made("not a map", 1, 1), None);
    }

    #[test]
    fn a_place_is_followed_through_a_transform() {
        let source = "type A = 1;\n\nexport const kiln: string =\n  broken();\n";
        let script = crate::script::transform("a.ts", source, &crate::script::Wanted::default()).expect("parses");
        let code = script.code.expect("changed");
        let at = code.find("broken").expect("kept");
        let (line, column) = fidelon_source::place_of(&code, at);
        let maps = [script.map.expect("mapped")];
        assert_eq!(original(&maps, line, column), Some((4, 3)));
        assert_eq!(original(&maps, 99, 1), None);
        assert_eq!(original(&[], 99, 1), Some((99, 1)), "what nobody compiled is as it was written");
    }
}
