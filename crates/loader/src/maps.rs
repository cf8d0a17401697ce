//! From a place in the code that runs back to the place that a person wrote, map by map (ECMA-426).

use oxc_sourcemap::SourceMap;

/// Follows `maps` from the last to the first: each leads one step nearer to the source. Lines and columns count from 1.
/// A place that a map does not know stays where the step before led.
pub fn original(maps: &[String], line: u32, column: u32) -> (u32, u32) {
    let mut at = (line, column);
    for text in maps.iter().rev() {
        let Ok(map) = SourceMap::from_json_string(text) else { break };
        let table = map.generate_lookup_table();
        let token = map.lookup_token(&table, at.0.saturating_sub(1), at.1.saturating_sub(1));
        let Some(token) = token.filter(|t| t.get_source_id().is_some()) else { break };
        at = (token.get_src_line() + 1, token.get_src_col() + 1);
    }
    at
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_place_is_followed_through_a_transform() {
        let source = "type A = 1;\n\nexport const kiln: string =\n  broken();\n";
        let script = crate::script::transform("a.ts", source, &crate::script::Wanted::default()).expect("parses");
        let code = script.code.expect("changed");
        let at = code.find("broken").expect("kept");
        let (line, column) = fidelon_source::place_of(&code, at);
        assert_eq!(original(&[script.map.expect("mapped")], line, column), (4, 3));
    }
}
