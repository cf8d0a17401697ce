//! Faults that people make in components, as edits of the source: a condition turned round, an event that is not sent, a slot that is
//! dropped. Nothing is run here; who plays a component with one of them finds out whether anybody notices.
//!
//! | module | subject |
//! |---|---|
//! | `kinds` | the table of faults |
//! | `script` | where a script can go wrong, JSX with it |
//! | `calls` | calls of a script: what they are for, by how they are written |
//! | `reach` | which top-level statements a component of a file is made of |
//! | `template` | where a template can go wrong |
//! | `choice` | some faults for all |

mod calls;
mod choice;
mod kinds;
mod reach;
mod script;
mod template;

use std::ops::Range;

use fidelon_core::surface::Framework;
use fidelon_reader::markup;
use oxc::span::SourceType;

pub use choice::choose;
pub use kinds::Kind;

/// One fault: what is put in place of a part of the source.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Fault {
    /// What goes wrong.
    pub kind: Kind,
    /// The bytes that are replaced.
    pub at: Range<usize>,
    /// What stands there instead.
    pub put: String,
}

impl Fault {
    /// The source with the fault in it.
    pub fn in_source(&self, source: &str) -> String {
        format!("{}{}{}", &source[..self.at.start], self.put, &source[self.at.end..])
    }
}

/// All faults of a component's source, by their places. `export` is the name under which a script gives the component; of a script that
/// gives several, what belongs to others alone is left as it is.
pub fn faults(framework: Framework, file: &str, export: &str, source: &str) -> Vec<Fault> {
    let extension = file.rsplit('.').next().unwrap_or_default();
    let mut out = match extension {
        "vue" => template::of_blocks(source, markup::Syntax::Vue),
        "svelte" => template::of_blocks(source, markup::Syntax::Svelte),
        "html" | "htm" if framework == Framework::Angular => template::of_markup(source, 0..source.len(), markup::Syntax::Angular),
        "html" | "htm" => Vec::new(),
        _ => script::of_file(source, language(extension), export),
    };
    // What is no other text is no fault.
    out.retain(|fault| source[fault.at.clone()] != *fault.put);
    out.sort_by_key(|fault| (fault.at.start, fault.at.end, fault.kind));
    out.dedup();
    out
}

fn language(extension: &str) -> SourceType {
    match extension {
        "ts" | "mts" | "cts" => SourceType::ts(),
        "tsx" => SourceType::tsx(),
        _ => SourceType::jsx(),
    }
}
