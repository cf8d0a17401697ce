//! Rendered output as somebody accepted it: a text file that people read and version control compares line by line.
//!
//! ```text
//! # Rendered output of vue/KilnDial.vue, as it was accepted. Compared by `fidelon check`, written by `fidelon accept`.
//!
//! @ label = "Bisque", target = 600, locked = false
//! @ label = "Bisque", target = 600, locked = true
//!   <div class="kiln-dial">
//!   </div>
//! ```
//! Combinations that render the same stand together, in the order of the plan.

use indexmap::IndexMap;

use crate::stage::Combination;

/// Begins the line of a combination.
const COMBINATION: &str = "@ ";
/// Begins the lines of its output.
const OUTPUT: &str = "  ";

/// Accepted output by combination, in words.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Baseline {
    outputs: IndexMap<String, String>,
}

/// A line that is none of a baseline's.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct BaselineFault {
    /// Which, from 1.
    pub line: u32,
    /// What is wrong and what to do.
    pub message: String,
}

/// What a new record changed.
#[derive(Debug, Clone, Copy, PartialEq, Eq, Default)]
pub struct Changes {
    /// Combinations that were not there.
    pub new: usize,
    /// Combinations whose output is another one.
    pub changed: usize,
    /// Combinations that are there no more.
    pub gone: usize,
}

impl Baseline {
    /// The key of a combination: its words on one line.
    pub fn key(combination: &Combination) -> String {
        combination.in_words().split(['\n', '\r']).map(str::trim).collect::<Vec<_>>().join("⏎")
    }

    /// Accepts an output.
    pub fn put(&mut self, combination: &Combination, output: &str) {
        self.outputs.insert(Self::key(combination), Self::tidy(output));
    }

    /// An output as it is kept: blanks at the ends of lines do not count.
    pub fn tidy(output: &str) -> String {
        output.trim_end().lines().map(str::trim_end).collect::<Vec<_>>().join("\n")
    }

    /// What was accepted for a combination.
    pub fn output(&self, combination: &Combination) -> Option<&str> {
        self.outputs.get(&Self::key(combination)).map(String::as_str)
    }

    /// How many combinations are recorded.
    pub fn len(&self) -> usize {
        self.outputs.len()
    }

    /// True when none is.
    pub fn is_empty(&self) -> bool {
        self.outputs.is_empty()
    }

    /// Recorded combinations that are not among these.
    pub fn stale(&self, combinations: &[Combination]) -> usize {
        let known: Vec<String> = combinations.iter().map(Self::key).collect();
        self.outputs.keys().filter(|k| !known.contains(k)).count()
    }

    /// What another record changes about this one.
    pub fn changes(&self, next: &Self) -> Changes {
        let changed = next.outputs.iter().filter(|(k, v)| self.outputs.get(*k).is_some_and(|old| old != *v)).count();
        let new = next.outputs.keys().filter(|k| !self.outputs.contains_key(*k)).count();
        let gone = self.outputs.keys().filter(|k| !next.outputs.contains_key(*k)).count();
        Changes { new, changed, gone }
    }

    /// As the text of a file.
    pub fn write(&self, component: &str) -> String {
        let mut out =
            format!("# Rendered output of {component}, as it was accepted. Compared by `fidelon check`, written by `fidelon accept`.\n");
        let mut groups: IndexMap<&str, Vec<&str>> = IndexMap::new();
        for (combination, output) in &self.outputs {
            groups.entry(output).or_default().push(combination);
        }
        for (output, combinations) in groups {
            out.push('\n');
            for combination in combinations {
                out.push_str(&format!("{COMBINATION}{combination}\n"));
            }
            for line in output.lines() {
                out.push_str(format!("{OUTPUT}{line}").trim_end());
                out.push('\n');
            }
        }
        out
    }

    /// Reads the text of a file.
    ///
    /// # Errors
    /// The first line that no baseline has, as a merge leaves it.
    pub fn read(text: &str) -> Result<Self, BaselineFault> {
        let mut out = Self::default();
        let mut open: Vec<String> = Vec::new();
        let mut output: Vec<&str> = Vec::new();
        let fault = |line: usize, message: &str| BaselineFault { line: line as u32 + 1, message: message.into() };
        for (i, line) in text.lines().enumerate() {
            if let Some(combination) = line.strip_prefix(COMBINATION) {
                if !output.is_empty() {
                    out.close(&mut open, &mut output);
                }
                if out.outputs.contains_key(combination) || open.iter().any(|o| o == combination) {
                    return Err(fault(i, "this combination stands here twice: keep one, or record anew with `fidelon accept`"));
                }
                open.push(combination.to_owned());
            } else if let Some(line) = line.strip_prefix(OUTPUT) {
                if open.is_empty() {
                    return Err(fault(i, "output without a combination above it"));
                }
                output.push(line);
            } else if line.is_empty() {
                // An empty line may be one of the output; between groups it says nothing.
                if !output.is_empty() {
                    output.push("");
                } else if !open.is_empty() {
                    out.close(&mut open, &mut output);
                }
            } else if !line.starts_with('#') {
                return Err(fault(i, "this is no line of a baseline: if a merge left it, record anew with `fidelon accept`"));
            }
        }
        out.close(&mut open, &mut output);
        Ok(out)
    }

    fn close(&mut self, open: &mut Vec<String>, output: &mut Vec<&str>) {
        let text = output.join("\n").trim_end().to_owned();
        self.outputs.extend(open.drain(..).map(|combination| (combination, text.clone())));
        output.clear();
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::value::Value;

    fn combination(locked: bool, note: &str) -> Combination {
        let props = [("locked".to_owned(), Value::json(locked)), ("note".to_owned(), Value::json(note))].into_iter().collect();
        Combination { props, fills: [("default".to_owned(), Some("<p>\n  Mug</p>".to_owned()))].into_iter().collect() }
    }

    #[test]
    fn what_is_written_is_read_again() {
        let mut baseline = Baseline::default();
        baseline.put(&combination(false, "a"), "<div>\n  <p>\n\n  x</p>\n</div>\n");
        baseline.put(&combination(true, "a"), "<div>\n</div>\n");
        baseline.put(&combination(true, "b @ c"), "<div>\n</div>");
        baseline.put(&Combination::default(), "");
        let text = baseline.write("Dial.vue");
        assert_eq!(Baseline::read(&text), Ok(baseline.clone()), "{text}");
        assert_eq!(text.matches("<div>").count(), 2, "equal outputs stand once: {text}");
        assert_eq!(baseline.output(&combination(true, "b @ c")), Some("<div>\n</div>"));
        assert_eq!(baseline.stale(&[combination(false, "a")]), 3);
        let mut next = baseline.clone();
        next.put(&combination(true, "a"), "<p>\n</p>");
        next.put(&combination(false, "new"), "");
        assert_eq!(baseline.changes(&next), Changes { new: 1, changed: 1, gone: 0 });
        assert_eq!(next.changes(&baseline), Changes { new: 0, changed: 1, gone: 1 });
    }

    #[test]
    fn what_a_merge_left_is_told_with_its_line() {
        for (text, line) in [("# x\n\n<<<<<<< ours\n", 3), ("  <p>\n", 1), ("@ a\n  x\n\n@ a\n  y\n", 4)] {
            assert_eq!(Baseline::read(text).map_err(|f| f.line), Err(line), "{text}");
        }
    }
}
