//! Rendered output and behaviour as somebody accepted them: a text file that people read and version control compares line by line.
//!
//! ```text
//! # Rendered output and behaviour of vue/KilnDial.vue, as accepted. Compared by `fidelon check`, written by `fidelon accept`.
//!
//! @ label = "Bisque", target = 600, locked = false
//! @ label = "Bisque", target = 600, locked = true
//!   <div class="kiln-dial">
//!   </div>
//!
//! > press button "Raise"
//! @ label = "Bisque", target = 600, locked = false
//!   emitted targetSettled 610
//! @ label = "Bisque", target = 600, locked = true
//!   nothing
//! ```
//! The output comes first, then a section for each act of a person. Combinations with the same outcome stand together, in the order of
//! the plan.

use std::collections::HashSet;

use indexmap::{IndexMap, IndexSet};

use crate::stage::Combination;

/// Begins the line of a combination.
const COMBINATION: &str = "@ ";
/// Begins the lines of an outcome.
const OUTCOME: &str = "  ";
/// Begins the section of an act.
const ACT: &str = "> ";

/// The section of the rendered output: what is there before anybody acts.
pub const RENDERED: &str = "";

/// Accepted outcomes: by act, [`RENDERED`] for the mount, then by combination, in words.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub struct Baseline {
    sections: IndexMap<String, IndexMap<String, String>>,
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

    /// Accepts the outcome of an act in a combination; of [`RENDERED`], the output.
    pub fn put(&mut self, act: &str, combination: &Combination, outcome: &str) {
        self.sections.entry(act.to_owned()).or_default().insert(Self::key(combination), Self::tidy(outcome));
    }

    /// An outcome as it is kept: blanks at the ends of lines do not count.
    pub fn tidy(outcome: &str) -> String {
        outcome.trim_end().lines().map(str::trim_end).collect::<Vec<_>>().join("\n")
    }

    /// What was accepted for a combination.
    pub fn output(&self, combination: &Combination) -> Option<&str> {
        self.outcome(RENDERED, &Self::key(combination))
    }

    /// What was accepted for each act in a combination, in the order of the file.
    pub fn acts(&self, combination: &Combination) -> Vec<(&str, &str)> {
        let key = Self::key(combination);
        let acts = self.sections.iter().filter(|(act, _)| *act != RENDERED);
        acts.filter_map(|(act, outcomes)| Some((act.as_str(), outcomes.get(&key)?.as_str()))).collect()
    }

    fn outcome(&self, act: &str, key: &str) -> Option<&str> {
        self.sections.get(act)?.get(key).map(String::as_str)
    }

    fn combinations(&self) -> impl Iterator<Item = &String> {
        self.sections.get(RENDERED).into_iter().flat_map(IndexMap::keys)
    }

    /// How many combinations are recorded.
    pub fn len(&self) -> usize {
        self.combinations().count()
    }

    /// True when none is.
    pub fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Recorded combinations that are not among these.
    pub fn stale(&self, combinations: &[Combination]) -> usize {
        let known: HashSet<String> = combinations.iter().map(Self::key).collect();
        self.combinations().filter(|k| !known.contains(*k)).count()
    }

    /// What another record changes about this one.
    pub fn changes(&self, next: &Self) -> Changes {
        let acts: IndexSet<&String> = self.sections.keys().chain(next.sections.keys()).collect();
        let differs = |key: &str| acts.iter().any(|act| self.outcome(act, key) != next.outcome(act, key));
        let was = |key: &str| self.outcome(RENDERED, key).is_some();
        let changed = next.combinations().filter(|k| was(k) && differs(k)).count();
        let new = next.combinations().filter(|k| !was(k)).count();
        let gone = self.combinations().filter(|k| next.outcome(RENDERED, k).is_none()).count();
        Changes { new, changed, gone }
    }

    /// As the text of a file.
    pub fn write(&self, component: &str) -> String {
        let mut out = format!(
            "# Rendered output and behaviour of {component}, as accepted. Compared by `fidelon check`, written by `fidelon accept`.\n"
        );
        for (act, outcomes) in &self.sections {
            out.push('\n');
            if act != RENDERED {
                out.push_str(&format!("{ACT}{act}\n"));
            }
            let mut groups: IndexMap<&str, Vec<&str>> = IndexMap::new();
            for (combination, outcome) in outcomes {
                groups.entry(outcome).or_default().push(combination);
            }
            for (i, (outcome, combinations)) in groups.into_iter().enumerate() {
                if i > 0 {
                    out.push('\n');
                }
                for combination in combinations {
                    out.push_str(&format!("{COMBINATION}{combination}\n"));
                }
                for line in outcome.lines() {
                    out.push_str(format!("{OUTCOME}{line}").trim_end());
                    out.push('\n');
                }
            }
        }
        out
    }

    /// Reads the text of a file.
    ///
    /// # Errors
    /// The first line that no baseline has, as a merge leaves it.
    pub fn read(text: &str) -> Result<Self, BaselineFault> {
        let mut reader = Reader::default();
        for (i, line) in text.lines().enumerate() {
            reader.line(line).map_err(|message| BaselineFault { line: i as u32 + 1, message: message.into() })?;
        }
        reader.close();
        Ok(reader.out)
    }
}

/// Reads a baseline line by line.
#[derive(Default)]
struct Reader<'t> {
    out: Baseline,
    /// The act whose section it is in.
    act: &'t str,
    /// The combinations whose outcome comes next.
    open: Vec<&'t str>,
    outcome: Vec<&'t str>,
}

impl<'t> Reader<'t> {
    fn line(&mut self, line: &'t str) -> Result<(), &'static str> {
        if let Some(act) = line.strip_prefix(ACT) {
            self.close();
            if self.out.sections.contains_key(act) {
                return Err("this act stands here twice: keep one, or record anew with `fidelon accept`");
            }
            self.act = act;
        } else if let Some(combination) = line.strip_prefix(COMBINATION) {
            if !self.outcome.is_empty() {
                self.close();
            }
            if self.out.outcome(self.act, combination).is_some() || self.open.contains(&combination) {
                return Err("this combination stands here twice: keep one, or record anew with `fidelon accept`");
            }
            self.open.push(combination);
        } else if let Some(line) = line.strip_prefix(OUTCOME) {
            if self.open.is_empty() {
                return Err("output without a combination above it");
            }
            self.outcome.push(line);
        } else if line.is_empty() {
            // An empty line may be one of the output; between groups it says nothing.
            if !self.outcome.is_empty() {
                self.outcome.push("");
            } else if !self.open.is_empty() {
                self.close();
            }
        } else if !line.starts_with('#') {
            return Err("this is no line of a baseline: if a merge left it, record anew with `fidelon accept`");
        }
        Ok(())
    }

    /// Takes the outcome for the combinations above it.
    fn close(&mut self) {
        if self.open.is_empty() {
            return;
        }
        let text = self.outcome.join("\n").trim_end().to_owned();
        let section = self.out.sections.entry(self.act.to_owned()).or_default();
        section.extend(self.open.drain(..).map(|combination| (combination.to_owned(), text.clone())));
        self.outcome.clear();
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
        baseline.put(RENDERED, &combination(false, "a"), "<div>\n  <p>\n\n  x</p>\n</div>\n");
        baseline.put(RENDERED, &combination(true, "a"), "<div>\n</div>\n");
        baseline.put(RENDERED, &combination(true, "b @ c"), "<div>\n</div>");
        baseline.put(RENDERED, &Combination::default(), "");
        baseline.put("press button \"Raise\"", &combination(false, "a"), "emits raised 1\n+   <p>\n");
        baseline.put("press button \"Raise\"", &combination(true, "a"), "nothing");
        let text = baseline.write("Dial.vue");
        assert_eq!(Baseline::read(&text), Ok(baseline.clone()), "{text}");
        assert_eq!(text.matches("<div>").count(), 2, "equal outputs stand once: {text}");
        assert_eq!(baseline.output(&combination(true, "b @ c")), Some("<div>\n</div>"));
        assert_eq!(baseline.acts(&combination(true, "a")), [("press button \"Raise\"", "nothing")]);
        assert_eq!(baseline.acts(&Combination::default()), []);
        assert_eq!(baseline.stale(&[combination(false, "a")]), 3);
        let mut next = baseline.clone();
        next.put("press button \"Raise\"", &combination(true, "a"), "emits raised 1");
        next.put(RENDERED, &combination(false, "new"), "");
        assert_eq!(baseline.changes(&next), Changes { new: 1, changed: 1, gone: 0 });
        assert_eq!(next.changes(&baseline), Changes { new: 0, changed: 1, gone: 1 });
    }

    #[test]
    fn what_a_merge_left_is_told_with_its_line() {
        for (text, line) in [("# x\n\n<<<<<<< ours\n", 3), ("  <p>\n", 1), ("@ a\n  x\n\n@ a\n  y\n", 4), ("> p\n@ a\n  x\n> p\n", 4)] {
            assert_eq!(Baseline::read(text).map_err(|f| f.line), Err(line), "{text}");
        }
    }
}
