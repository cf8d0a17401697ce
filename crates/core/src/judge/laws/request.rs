//! `request/…`: what must be true of what a component asks a server for.

use indexmap::IndexMap;
use serde_json::Value as Json;

use super::acting::{act, controls};
use super::changes::{is_initial, is_nothing};
use super::{Checked, LawContext, LawOutcome, Runs, change, failed, mount};
use crate::finding::Failure;
use crate::judge::equivalence::{difference, observable};
use crate::observation::{PhaseSnapshot, Requested};
use crate::plan::Domain;
use crate::stage::{Canned, Combination, Environment, Reply, Script, StageError, Step};

/// Ways to two requests that are tried.
const MOST_WAYS: usize = 12;
/// When replies come, in milliseconds of virtual time: soon, after one that was asked for later, and after anything that is looked at.
const SOON: u32 = 100;
const LATE: u32 = 3_000;
const NEVER: u32 = 3_600_000;
/// How long is waited for what asks a little later, and for all replies.
const ASKED: u32 = 1_000;
const REPLIED: u32 = 5_000;

/// With two requests under way, what is shown in the end is what the last one's reply says, whichever comes last. Judged where replies are
/// canned, and where in order the later reply takes the place of the earlier one: what adds to what is there has no last.
pub(super) fn latest(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let Some(network) = context.network.filter(|all| !all.is_empty()) else { return Ok(out) };
    let mut done: Vec<Option<String>> = Vec::new();
    for way in ways(context, runs)?.into_iter().take(context.effort.most(MOST_WAYS)) {
        // One case about each prop and about each pair of controls is enough.
        if way.about.is_some() && done.contains(&way.about) {
            continue;
        }
        let Some(failure) = way.judge(network, runs)? else { continue };
        done.push(way.about.clone());
        out.push(Checked { combination: way.start, failure, events: Vec::new(), about: way.about });
    }
    Ok(out)
}

/// A way to two requests: a mount, what asks for the first unless the mount does, what asks for the second.
struct Way {
    start: Combination,
    first: Vec<Step>,
    second: Vec<Step>,
    about: Option<String>,
    /// What was done, in words.
    words: String,
}

/// Values of a prop that follow one another, texts that grow, controls that are used one after the other.
fn ways(context: &LawContext<'_>, runs: &mut dyn Runs) -> Result<Vec<Way>, StageError> {
    let mut out = Vec::new();
    let Some(plain) = context.combinations.first() else { return Ok(out) };
    for domain in context.domains {
        let Domain::Prop(name, values) = domain else { continue };
        if context.except.contains(name) || is_initial(name) {
            continue;
        }
        let values: Vec<_> = values.iter().filter(|v| !is_nothing(v)).collect();
        for pair in values.windows(2).take(3) {
            let second = vec![Step::Pass { props: IndexMap::from([(name.clone(), pair[1].clone())]) }];
            let words = format!("`{name}` changes from {} to {}", pair[0], pair[1]);
            let start = change(plain, name, pair[0].clone());
            out.push(Way { start, first: Vec::new(), second, about: Some(name.clone()), words });
        }
    }
    let mounted = runs.play(&mount(plain))?;
    let Some(seen) = mounted.mount().filter(|_| !failed(&mounted)) else { return Ok(out) };
    let mut asking: Vec<Vec<Step>> = Vec::new();
    for steps in controls(&seen.tree).into_iter().take(6).filter_map(|node| act(&seen.tree, node)) {
        let typed = match steps.first() {
            Some(Step::Type { text, at, .. }) => Some((text.clone(), at.clone())),
            _ => None,
        };
        if let Some((text, at)) = typed {
            let (begin, rest) = text.split_at(text.chars().next().map_or(0, char::len_utf8));
            let step = |text: &str| vec![Step::Type { text: text.to_owned(), at: at.clone(), replace: false }];
            let words = format!("{begin:?} and then {rest:?} are typed into {}", at.written);
            out.push(Way { start: plain.clone(), first: step(begin), second: step(rest), about: None, words });
            continue;
        }
        let used = runs.play(&Script { phases: vec![steps.clone()], ..mount(plain) })?;
        if used.phases.get(1).is_some_and(|s| !s.requests.is_empty()) {
            asking.push(steps);
        }
    }
    for pair in asking.windows(2) {
        let words = |steps: &[Step]| steps.first().map(ToString::to_string).unwrap_or_default();
        let words = format!("{} and then {}", words(&pair[0]), words(&pair[1]));
        out.push(Way { start: plain.clone(), first: pair[0].clone(), second: pair[1].clone(), about: None, words });
    }
    Ok(out)
}

impl Way {
    /// None where there are no two requests, or nothing is to be told of them.
    fn judge(&self, network: &[Canned], runs: &mut dyn Runs) -> Result<Option<Option<Failure>>, StageError> {
        let asked = runs.play(&self.script(None))?;
        if failed(&asked) {
            return Ok(None);
        }
        let (first, second) = match (self.first.is_empty(), asked.phases.as_slice()) {
            (true, [mount, passed, rested]) => (of(&[mount]), of(&[passed, rested])),
            (false, [_, first, passed, rested]) => (of(&[first]), of(&[passed, rested])),
            _ => return Ok(None),
        };
        let (Some(first), Some(second)) = (first, second) else { return Ok(None) };
        let mut ended = |late: u32, soon: u32| -> Result<Option<String>, StageError> {
            let Some(network) = answering(network, (&first, late), (&second, soon)) else { return Ok(None) };
            let played = runs.play(&self.script(Some(network)))?;
            Ok(played.phases.last().filter(|_| !failed(&played)).map(|seen| observable(seen).to_string()))
        };
        let (in_order, alone) = (ended(SOON, SOON)?, ended(NEVER, SOON)?);
        let Some(expected) = in_order.filter(|shown| Some(shown) == alone.as_ref()) else { return Ok(None) };
        let Some(actual) = ended(LATE, SOON)? else { return Ok(None) };
        let failure = (expected != actual).then(|| {
            let (expected, actual) = difference(&expected, &actual);
            Failure {
                message: format!(
                    "when {}, and the reply to {} {} comes after that to {} {}, it shows the reply that came last, not what was asked for last",
                    self.words, first.method, first.url, second.method, second.url
                ),
                expected: Some(expected),
                actual: Some(actual),
                ..Failure::default()
            }
        });
        Ok(Some(failure))
    }

    fn script(&self, network: Option<Vec<Canned>>) -> Script {
        let rest = |milliseconds| vec![Step::Elapse { milliseconds }];
        let rest = rest(if network.is_some() { REPLIED } else { ASKED });
        let phases = [self.first.clone(), self.second.clone(), rest].into_iter().filter(|steps| !steps.is_empty()).collect();
        Script { phases, surroundings: Environment { network, clock: None }, ..mount(&self.start) }
    }
}

/// The last request of some phases that a canned reply answers and that changes nothing on the server.
fn of(phases: &[&std::rc::Rc<PhaseSnapshot>]) -> Option<Requested> {
    let mut all = phases.iter().flat_map(|p| &p.requests).filter(|r| r.answered && r.method == "GET");
    all.next_back().cloned()
}

/// Canned replies in which these two requests are answered after so long, each by a text that is its own.
fn answering(network: &[Canned], first: (&Requested, u32), second: (&Requested, u32)) -> Option<Vec<Canned>> {
    let (one, two) = (reply_to(network, first.0)?, reply_to(network, second.0)?);
    let alike = one.text == two.text;
    let marked = |reply: &Reply, mark: &str, after: u32| {
        let text = if alike { with_mark(&reply.text, mark)? } else { reply.text.clone() };
        Some(Reply { text, after, fail: false, ..reply.clone() })
    };
    let (one, two) = (marked(one, " (1)", first.1)?, marked(two, " (2)", second.1)?);
    let canned = |of: &Requested, replies| Canned { method: of.method.clone(), path: of.url.clone(), replies, messages: Vec::new() };
    let own = match first.0.url == second.0.url {
        true => vec![canned(first.0, vec![one, two])],
        false => vec![canned(first.0, vec![one]), canned(second.0, vec![two])],
    };
    Some(own.into_iter().chain(network.iter().cloned()).collect())
}

/// What is canned for a request, by the rules that the stage goes by: with its query or without.
fn reply_to<'a>(network: &'a [Canned], request: &Requested) -> Option<&'a Reply> {
    let path = request.url.split('?').next().unwrap_or_default();
    let fits = |canned: &&Canned| canned.method == request.method && (fits(&canned.path, &request.url) || fits(&canned.path, path));
    network.iter().find(fits)?.replies.last().filter(|reply| !reply.fail && (200..300).contains(&reply.status))
}

/// Whether a text is of a pattern in which `*` stands for anything.
fn fits(pattern: &str, text: &str) -> bool {
    let mut parts = pattern.split('*');
    let Some(mut rest) = parts.next().and_then(|begin| text.strip_prefix(begin)) else { return false };
    let mut parts: Vec<&str> = parts.collect();
    let Some(end) = parts.pop() else { return rest.is_empty() };
    for part in parts {
        let Some(at) = rest.find(part) else { return false };
        rest = &rest[at + part.len()..];
    }
    rest.ends_with(end)
}

/// JSON with a mark behind each of its texts, so that it can be told from the same reply to another request.
fn with_mark(text: &str, mark: &str) -> Option<String> {
    fn marked(value: Json, mark: &str) -> Json {
        match value {
            Json::String(text) => Json::String(text + mark),
            Json::Array(items) => items.into_iter().map(|v| marked(v, mark)).collect(),
            Json::Object(fields) => Json::Object(fields.into_iter().map(|(k, v)| (k, marked(v, mark))).collect()),
            other => other,
        }
    }
    let out = marked(serde_json::from_str(text).ok()?, mark).to_string();
    (out != text).then_some(out)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn patterns_fit_as_the_stage_has_them() {
        let cases = [
            ("/pieces", "/pieces", true),
            ("/pieces", "/pieces/4", false),
            ("/pieces/*", "/pieces/4", true),
            ("/*/glaze", "/pieces/4/glaze", true),
            ("/*/glaze", "/pieces/4/glazes", false),
            ("*", "", true),
            ("/a*b*c", "/abc", true),
            ("/a*b*c", "/acb", false),
        ];
        for (pattern, text, expected) in cases {
            assert_eq!(fits(pattern, text), expected, "{pattern} {text}");
        }
    }

    #[test]
    fn texts_are_marked_and_nothing_else() {
        assert_eq!(with_mark(r#"{"a":["x",1],"b":null}"#, " (1)").as_deref(), Some(r#"{"a":["x (1)",1],"b":null}"#));
        assert_eq!(with_mark("[1,2]", " (1)"), None);
        assert_eq!(with_mark("plain", " (1)"), None);
    }
}
