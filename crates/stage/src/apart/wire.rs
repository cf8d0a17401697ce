//! What a stage apart is asked and answers. Between processes it is MessagePack with its length before it.
//!
//! Long texts, the stylesheets of libraries, go once: an observation of each case would carry hundreds of kilobytes of them.

use std::collections::HashMap;
use std::io::{self, Read, Write};
use std::path::PathBuf;
use std::rc::Rc;
use std::sync::Arc;
use std::time::Duration;

use fidelon_core::Unjudged;
use fidelon_core::observation::{Observation, PhaseSnapshot};
use fidelon_core::scene::Scene;
use fidelon_core::stage::{Dependencies, Edit, Opened, Script, StageError};
use fidelon_dom::NodeId;
use fidelon_dom::cascade::SheetText;
use fidelon_engine::Limits;
use fidelon_loader::{Aliases, Cache};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};

use crate::embedded::Options;

/// What is asked.
#[derive(Debug, Serialize, Deserialize)]
pub(super) enum Ask {
    Open(Box<Scene>),
    Play(Box<Script>),
    Dependencies,
    /// Nobody waits for this: it has no answer.
    Prepare(Box<Scene>),
    Anew,
    Edit(Vec<Edit>),
    /// Texts that are typed and not saved stand before files of the disk from now on.
    Unsaved(Vec<(PathBuf, String)>),
    Renew,
}

impl Ask {
    /// What a component does while this is answered.
    pub(super) fn doing(&self) -> &'static str {
        match self {
            Self::Open(_) | Self::Prepare(_) => "loading it",
            Self::Play(_) => "playing it",
            Self::Dependencies | Self::Anew | Self::Edit(_) | Self::Unsaved(_) | Self::Renew => "",
        }
    }
}

/// What is answered.
#[derive(Debug, Serialize, Deserialize)]
pub(super) enum Answer {
    Opened(Result<Opened, StageError>),
    Played(Result<Played, StageError>),
    Dependencies(Option<Dependencies>),
    Done,
    /// The process ends: this is why.
    Lost(Unjudged),
}

/// An observation on its way: phases that are the same as the one before go once.
#[derive(Debug, Serialize, Deserialize)]
pub(super) struct Played {
    phases: Vec<PhaseSnapshot>,
    /// Which of the observation's phases are the same as the one before them.
    same: Vec<usize>,
    work: u64,
}

impl From<Observation> for Played {
    fn from(observation: Observation) -> Self {
        let Observation { mut phases, work } = observation;
        let same: Vec<usize> = (1..phases.len()).filter(|at| Rc::ptr_eq(&phases[at - 1], &phases[*at])).collect();
        same.iter().rev().for_each(|at| drop(phases.remove(*at)));
        // Nobody else holds them, so nothing is copied.
        Self { phases: phases.into_iter().map(Rc::unwrap_or_clone).collect(), same, work }
    }
}

impl From<Played> for Observation {
    fn from(played: Played) -> Self {
        let mut out = Self { work: played.work, ..Self::new(played.phases) };
        for at in played.same {
            let before = at.checked_sub(1).and_then(|before| out.phases.get(before)).cloned();
            out.phases.extend(before);
            if let Some(phases) = out.phases.get_mut(at..) {
                phases.rotate_right(1);
            }
        }
        out
    }
}

/// How a stage is set up, told first.
#[derive(Debug, Serialize, Deserialize)]
pub(super) struct Setup {
    root: PathBuf,
    cache: Option<PathBuf>,
    aliases: Aliases,
    deadline: Duration,
    memory_mib: usize,
    stack_mib: usize,
}

impl From<&Options> for Setup {
    fn from(options: &Options) -> Self {
        let Limits { deadline, memory_mib, stack_mib } = options.limits;
        let cache = options.cache.folder().map(PathBuf::from);
        Self { root: options.root.clone(), cache, aliases: options.aliases.clone(), deadline, memory_mib, stack_mib }
    }
}

impl From<Setup> for Options {
    fn from(setup: Setup) -> Self {
        let Setup { root, cache, aliases, deadline, memory_mib, stack_mib } = setup;
        let cache = cache.map_or_else(Cache::none, Cache::at);
        Self { root, cache, aliases, limits: Limits { deadline, memory_mib, stack_mib } }
    }
}

/// Texts from this length on go once.
const LONG: usize = 400;

/// An answer, with the long texts of its documents beside it.
#[derive(Debug, Serialize, Deserialize)]
pub(super) struct Parcel {
    answer: Answer,
    /// So many of the texts that were sent still count: of those that a copy of the process sent, its original knows nothing.
    known: usize,
    /// Texts that had no number before, in the order of their numbers.
    texts: Vec<Arc<String>>,
    /// Which text a node holds, by phase.
    held: Vec<(usize, NodeId, usize)>,
    /// Which sheets a document has beside its tree, by phase.
    sheets: Vec<(usize, NodeId, Vec<usize>)>,
}

/// The texts that were sent, by address. They are held, so that no address is used twice.
#[derive(Default)]
pub(super) struct SentTexts {
    numbers: HashMap<usize, usize>,
    texts: Vec<Arc<String>>,
    sheets: Vec<SheetText>,
}

impl SentTexts {
    /// Takes the long texts out of an answer.
    pub(super) fn pack(&mut self, mut answer: Answer) -> Parcel {
        if matches!(answer, Answer::Opened(_)) {
            // The other scene has others.
            *self = Self::default();
        }
        let known = self.texts.len();
        let (mut held, mut sheets) = (Vec::new(), Vec::new());
        if let Answer::Played(Ok(played)) = &mut answer {
            let empty = Arc::default();
            for (phase, seen) in played.phases.iter_mut().enumerate() {
                for (node, told) in seen.tree.sheet_texts() {
                    sheets.push((phase, node, told.iter().map(|sheet| self.sheet(sheet)).collect()));
                }
                for (node, text) in seen.tree.texts_mut().filter(|(_, text)| text.len() >= LONG) {
                    let text = std::mem::replace(text, Arc::clone(&empty));
                    held.push((phase, node, self.number(text)));
                }
            }
        }
        Parcel { answer, known, texts: self.texts[known..].to_vec(), held, sheets }
    }

    fn number(&mut self, text: Arc<String>) -> usize {
        let address = Arc::as_ptr(&text).addr();
        *self.numbers.entry(address).or_insert_with(|| {
            self.texts.push(text);
            self.texts.len() - 1
        })
    }

    fn sheet(&mut self, sheet: &SheetText) -> usize {
        if let Some(number) = self.numbers.get(&sheet.address()) {
            return *number;
        }
        self.texts.push(sheet.text());
        self.sheets.push(sheet.clone());
        self.numbers.insert(sheet.address(), self.texts.len() - 1);
        self.texts.len() - 1
    }
}

/// The texts that came.
#[derive(Default)]
pub(super) struct HeardTexts(Vec<Arc<String>>);

impl HeardTexts {
    /// Puts long texts back; none where a number stands for no text.
    pub(super) fn unpack(&mut self, parcel: Parcel) -> Option<Answer> {
        let Parcel { mut answer, known, texts, held, sheets } = parcel;
        if self.0.len() < known {
            return None;
        }
        self.0.truncate(known);
        self.0.extend(texts);
        if let Answer::Played(Ok(played)) = &mut answer {
            let mut held = held.into_iter().peekable();
            for (phase, seen) in played.phases.iter_mut().enumerate() {
                for (node, text) in seen.tree.texts_mut() {
                    // Both go through the nodes in their order.
                    if let Some((_, _, number)) = held.next_if(|(p, n, _)| *p == phase && *n == node) {
                        *text = self.0.get(number)?.clone();
                    }
                }
            }
            for (phase, node, numbers) in sheets {
                let told = numbers.into_iter().map(|n| self.0.get(n).cloned().map(SheetText::Text)).collect::<Option<Vec<_>>>()?;
                played.phases.get_mut(phase)?.tree.set_sheet_texts(node, told);
            }
        }
        Some(answer)
    }
}

/// Longer messages than this are none of ours.
const LONGEST: u32 = 1 << 30;

/// Writes a message.
///
/// # Errors
/// When the other side is gone, or the message cannot be written.
pub(super) fn write(to: &mut impl Write, message: &impl Serialize) -> io::Result<()> {
    let body = rmp_serde::to_vec_named(message).map_err(io::Error::other)?;
    let length =
        u32::try_from(body.len()).ok().filter(|n| *n < LONGEST).ok_or_else(|| io::Error::other("what is seen is too much to be told"))?;
    to.write_all(&length.to_le_bytes())?;
    to.write_all(&body)?;
    to.flush()
}

/// Reads a message; none when the other side has ended.
///
/// # Errors
/// When what came is no message.
pub(super) fn read<T: DeserializeOwned>(from: &mut impl Read) -> io::Result<Option<T>> {
    let mut length = [0; 4];
    match from.read_exact(&mut length) {
        Err(e) if e.kind() == io::ErrorKind::UnexpectedEof => return Ok(None),
        other => other?,
    }
    let length = u32::from_le_bytes(length);
    if length >= LONGEST {
        return Err(io::Error::other("a message of no length"));
    }
    let mut body = vec![0; length as usize];
    from.read_exact(&mut body)?;
    rmp_serde::from_slice(&body).map(Some).map_err(io::Error::other)
}

#[cfg(test)]
mod tests {
    use fidelon_dom::{Document, parse};

    use super::*;

    fn sent(answer: Answer, from: &mut SentTexts, to: &mut HeardTexts) -> (usize, Answer) {
        let mut bytes = Vec::new();
        write(&mut bytes, &from.pack(answer)).expect("written");
        let parcel = read(&mut bytes.as_slice()).expect("a message").expect("not the end");
        (bytes.len(), to.unpack(parcel).expect("all texts are there"))
    }

    #[test]
    fn long_texts_go_once_and_come_back_shared() {
        let css = "p { color: red } ".repeat(100);
        let page = parse::document(&format!("<style>{css}</style><p title='a'>mug</p>"));
        let seen = PhaseSnapshot { tree: page.snapshot().0, settled: true, ..PhaseSnapshot::default() };
        let observation = || {
            let first = Rc::new(seen.clone());
            Observation { phases: vec![first.clone(), first.clone(), first, Rc::new(seen.clone())], work: 7 }
        };
        let (mut from, mut to) = (SentTexts::default(), HeardTexts::default());
        let mut lengths = Vec::new();
        for _ in 0..2 {
            let (length, answer) = sent(Answer::Played(Ok(observation().into())), &mut from, &mut to);
            let Answer::Played(Ok(heard)) = answer else { panic!("{answer:?}") };
            let heard = Observation::from(heard);
            assert_eq!(heard, observation());
            assert!(Rc::ptr_eq(&heard.phases[0], &heard.phases[2]) && !Rc::ptr_eq(&heard.phases[2], &heard.phases[3]));
            lengths.push(length);
        }
        assert!(lengths[0] > css.len() && lengths[1] < css.len(), "{lengths:?}");
        assert_eq!(to.0.len(), 1);
        let (_, opened) = sent(Answer::Opened(Ok(Opened::default())), &mut from, &mut to);
        assert!(matches!(opened, Answer::Opened(Ok(_))) && to.0.is_empty(), "another scene has other texts");
    }

    /// The original of a process that was copied numbers its texts as if the copy had sent none.
    #[test]
    fn texts_of_a_copy_are_forgotten_with_it() {
        let seen = |title: &str| {
            let page = parse::document(&format!("<p title='a'>mug</p><style>{}</style>", title.repeat(LONG)));
            Answer::Played(Ok(
                Observation::new(vec![PhaseSnapshot { tree: page.snapshot().0, settled: true, ..PhaseSnapshot::default() }]).into()
            ))
        };
        let texts = |answer: &Answer| {
            let Answer::Played(Ok(played)) = answer else { panic!("{answer:?}") };
            played.phases[0]
                .tree
                .clone()
                .texts_mut()
                .map(|(_, text)| text.to_string())
                .filter(|text| text.len() >= LONG)
                .collect::<Vec<_>>()
        };
        let (mut original, mut to) = (SentTexts::default(), HeardTexts::default());
        sent(seen("a"), &mut original, &mut to);
        let mut copy = SentTexts { numbers: original.numbers.clone(), texts: original.texts.clone(), sheets: original.sheets.clone() };
        let (_, of_copy) = sent(seen("b"), &mut copy, &mut to);
        let (_, after) = sent(seen("c"), &mut original, &mut to);
        assert_eq!((texts(&of_copy), texts(&after)), (vec!["b".repeat(LONG)], vec!["c".repeat(LONG)]));
        assert_eq!(to.0.len(), 2);
    }

    #[test]
    fn what_only_scripts_told_of_sheets_goes_along() {
        let mut page = parse::document("<p>mug</p>");
        let sheet = page.new_sheet();
        page.replace_sheet(sheet, "p { color: red }");
        page.adopt_sheets(Document::ROOT, vec![sheet]);
        let seen = PhaseSnapshot { tree: page.snapshot().0, settled: true, ..PhaseSnapshot::default() };
        let told = seen.tree.told_rules(Document::ROOT);
        assert!(told.contains("color: red"), "{told}");
        let (_, answer) =
            sent(Answer::Played(Ok(Observation::new(vec![seen]).into())), &mut SentTexts::default(), &mut HeardTexts::default());
        let Answer::Played(Ok(heard)) = answer else { panic!("{answer:?}") };
        assert_eq!(heard.phases[0].tree.told_rules(Document::ROOT), told);
    }

    #[test]
    fn what_is_no_message_is_an_error() {
        assert!(matches!(read::<Ask>(&mut [].as_slice()), Ok(None)));
        for bytes in [&[255, 255, 255, 255, 0][..], &[2, 0, 0, 0, 1], &[1, 0, 0, 0, 0xc1]] {
            assert!(read::<Ask>(&mut &*bytes).is_err(), "{bytes:?}");
        }
    }
}
