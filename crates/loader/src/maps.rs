//! From a place in the code that runs back to the place that a person wrote, map by map (ECMA-426).

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
        let maps = [script.map.expect("mapped")];
        assert_eq!(original(&maps, line, column), Some((4, 3)));
        assert_eq!(original(&maps, 99, 1), None);
        assert_eq!(original(&[], 99, 1), Some((99, 1)), "what nobody compiled is as it was written");
    }
}
