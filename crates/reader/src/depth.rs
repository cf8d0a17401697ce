//! How deep a script may nest at most. Parsers and visitors call themselves for each level, and a stack that overflows ends the process,
//! so what nests too deep for the stack of a reading thread is not parsed at all.

/// The stack of a thread that reads sources. It is reserved, not used: a level takes up to 1.6 KB of it, and at least one character.
pub const STACK: usize = 512 << 20;

/// A source of this length fits into the stack whatever it says.
const SHORT: usize = 160 << 10;

/// The deepest nesting that a longer one may have.
const DEEPEST: usize = 100_000;

/// Whether a script nests deeper than can be parsed. What is counted is never less than the true depth of ordinary code: open brackets, and
/// on each level of them the operators, dots and tags since the last comma or semicolon, of which each may hold the next.
pub fn is_too_deep(source: &str) -> bool {
    if source.len() <= SHORT {
        return false;
    }
    // What was counted outside of each bracket that is open.
    let mut outside: Vec<usize> = Vec::new();
    let (mut sum, mut here) = (0usize, 0usize);
    let mut word = [0u8; 4];
    for byte in source.bytes() {
        word = [word[1], word[2], word[3], byte];
        match byte {
            b'(' | b'[' | b'{' => {
                outside.push(here);
                sum += here + 1;
                here = 0;
            }
            b')' | b']' | b'}' => {
                here = outside.pop().unwrap_or(0);
                sum = sum.saturating_sub(here + 1);
                // `if` after `else` after `if`: the block between them ends no chain.
                if byte == b'}' {
                    here += 1;
                }
            }
            b',' | b';' => here = 0,
            b'.' | b'?' | b':' | b'+' | b'-' | b'*' | b'/' | b'%' | b'&' | b'|' | b'^' | b'!' | b'~' | b'=' | b'<' | b'>' => here += 1,
            _ if word == *b"else" => here += 1,
            _ => {}
        }
        if sum + here > DEEPEST {
            return true;
        }
    }
    false
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_long_sources_that_nest_deep_are_refused() {
        let many = 200_000;
        for (what, source, deep) in [
            ("arrays", "[".repeat(many), true),
            ("sums", "1+".repeat(many), true),
            ("calls", "x.a(1, 2)".to_owned() + &".a(1, 2)".repeat(many), true),
            ("branches", "if (a) {} else ".repeat(many), true),
            ("a short one", "[".repeat(100_000), false),
            ("data", "[1, -2, { a: 'x' }],\n".repeat(many), false),
            ("statements", "const a = b + c * d;\n".repeat(many), false),
        ] {
            assert_eq!(is_too_deep(&source), deep, "{what}");
        }
    }
}
