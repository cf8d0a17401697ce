//! `render/…`: what must be true of every mount, and of what is left of it.

use std::rc::Rc;

use fidelon_dom::NodeId;

use super::acting::{acts, broken_at};
use super::{Checked, LawContext, LawOutcome, Runs, failed, mount, pressing, prop};
use crate::finding::Failure;
use crate::judge::equivalence::{difference, observable};
use crate::judge::missing;
use crate::judge::warnings::{self, Warning};
use crate::naming::package_of;
use crate::observation::{LeakCounts, Note, Observation, PhaseSnapshot, Tone};
use crate::stage::{Combination, Script, StageError, Step};
use crate::surface::{Framework, Prop};
use crate::value::Value;

fn each(context: &LawContext<'_>, runs: &mut dyn Runs, judge: impl Fn(&Observation) -> Option<Failure>) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.combinations {
        let observation = runs.play(&mount(combination))?;
        let events = observation.phases.iter().flat_map(|p| &p.events).map(crate::judge::check::in_words).collect();
        out.push(Checked { combination: combination.clone(), failure: judge(&observation), events, about: None });
    }
    Ok(out)
}

fn first(observation: &Observation, tone: Tone) -> Option<&Note> {
    observation.phases.iter().flat_map(|p| &p.notes).find(|n| n.tone == tone)
}

fn of_note(message: String, note: &Note) -> Failure {
    Failure { message, expected: Some("nothing".into()), actual: Some(note.text.clone()), place: note.place.clone(), ..Failure::default() }
}

/// Mounting and updating raise no error.
pub(super) fn succeeds(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let is_told = |o: &Observation, n: &Note| !context.is_scene && missing::of_warning(o, &n.text).is_some();
    let mut out = each(context, runs, |o| first(o, Tone::Failed).filter(|n| !is_told(o, n)).map(|n| of_note("it threw".into(), n)))?;
    // A text that the plan made up and the page refuses is one that no parent would pass.
    let is_missing = |c: &Checked| !context.is_scene && c.failure.as_ref().is_some_and(|f| missing::explains(context.surface, f).is_some());
    out.retain(|c| c.failure.is_none() || !(is_refused(c, context) || is_missing(c)));
    // What fails at the mount would fail at the update too.
    if out.iter().all(|c| c.failure.is_none()) && !context.is_scene {
        out.extend(prop::updates(context, runs)?);
    }
    Ok(out)
}

/// What a page and the language say of a text that they refuse.
const REFUSALS: [&str; 14] = [
    " is required with ",
    "InvalidCharacterError",
    "is not a valid element name",
    "is not a valid selector",
    "Incorrect locale",
    "Invalid language tag",
    "Invalid time zone",
    "Invalid URL",
    "Invalid regular expression",
    "SyntaxError: nothing to repeat",
    "SyntaxError: unterminated",
    "SyntaxError: invalid ",
    // A file field that is given a text, in the words of the embedded stage and of browsers.
    "A file field can only be emptied",
    "accepts a filename, which may only",
];

/// How a component's own code speaks when it tells its parent what not to pass.
const ADVICE: [&str; 32] = [
    " is needed",
    "nly one of",
    "is allowed",
    "are allowed",
    "n't match",
    "not match",
    "must ",
    "should ",
    "mutually exclusive",
    "not both",
    "will be dropped",
    "cannot have both",
    "cannot be both",
    "cannot be used",
    "can't be used",
    "no effect",
    "not supported",
    " expected",
    "Expected ",
    "received ",
    "Received ",
    "minimum of",
    "maximum of",
    "at least",
    "at most",
    "not enough",
    "too many",
    "too few",
    "nvalid ",
    "is required",
    "is ignored",
    " requires ",
];

/// Whether a case failed because the page or the language refused a text that the plan made up: a name, a selector, a locale.
pub(super) fn is_refused(checked: &Checked, context: &LawContext<'_>) -> bool {
    let text = checked.failure.as_ref().and_then(|f| f.actual.as_deref()).unwrap_or_default();
    let made_up = |(name, value): (&String, &Value)| {
        matches!(value, Value::Json(serde_json::Value::String(_))) && !context.given.iter().any(|given| given == name)
    };
    let refused = REFUSALS.iter().any(|words| text.contains(words)) && checked.combination.props.iter().any(made_up);
    // A number out of the range of what the language does with it: ten thousand decimals. A stack that is full is no such thing.
    let is_range = text.starts_with("RangeError: ") && !text.contains("call stack");
    let refused = refused || is_range && self::made_up(&checked.combination, context).any(|(_, value)| is_number(value));
    refused || is_validated(text, checked, context) || is_misplaced(text, &checked.combination, None)
}

/// Whether it is said of the content of a slot that it may not stand there: the plan's own content, by what HTML lets an element hold.
fn is_misplaced(text: &str, combination: &Combination, shown: Option<&PhaseSnapshot>) -> bool {
    const SAID: [&str; 11] = [
        "Runtime directive used on component with non-element root node",
        "supplied to `React.Fragment`",
        "cannot appear as a child of",
        "cannot appear as a descendant of",
        "cannot be a child of",
        "cannot be a descendant of",
        "is a void element tag and must neither have `children`",
        "can only have at most one child",
        "can only be used on a single element or component",
        "expected to receive a single React element child",
        "instead of setting children on",
    ];
    let of_content = |tag: &str| text.contains(&format!("<{tag}>")) || !text.contains("appear as") && !text.contains("cannot be a");
    let tags = combination.fills.values().flatten().filter_map(|html| html.strip_prefix('<')?.split([' ', '>', '/']).next());
    // A part of a table or a list that is shown without it stands in the stage's own `<div>`: where it belongs is its parent's to know.
    let top = shown.and_then(|seen| seen.tree.body().map(|body| (&seen.tree, body))).and_then(|(doc, body)| {
        let holder = doc.children(body).find(|n| doc.local_name(*n) == Some("div"))?;
        doc.children(holder).find_map(|n| doc.local_name(n))
    });
    let in_ours =
        |tag: &str| [" appear as a child of", " be a child of"].iter().any(|said| text.contains(&format!("<{tag}> cannot{said} <div>")));
    SAID.iter().any(|words| text.contains(words)) && (tags.into_iter().any(of_content) || top.is_some_and(in_ours))
}

/// Whether a component refuses by itself what the plan made up: it throws an error of its own that names the prop or tells the value. What
/// it refuses in the plainest combination, too, is no absurd value.
fn is_validated(text: &str, checked: &Checked, context: &LawContext<'_>) -> bool {
    // What is thrown and is no error was written on purpose: `throw 'Value should be …'`.
    let thrown = text.strip_prefix("uncaught: ").is_some_and(|rest| !rest.split([' ', ':']).next().unwrap_or_default().ends_with("Error"));
    let deliberate = thrown || text.starts_with("Error: ") || text.starts_with("RangeError: ");
    let place = checked.failure.as_ref().and_then(|f| f.place.as_ref());
    // What a framework throws is said of how it is used; any other code that throws a sentence of its own refuses what it was given.
    let refuses =
        text.starts_with("Error: ") && place.is_some_and(|p| package_of(&p.file).is_some_and(|package| !Framework::is_package(package)));
    let advises = text.starts_with("Error: ") && ADVICE.iter().any(|words| text.contains(words));
    let is_free = |value: &Value| matches!(value, Value::Json(serde_json::Value::String(_) | serde_json::Value::Number(_)));
    // Content that is left out, or of another kind than is asked for, is asked for in the same way.
    let of_content = || ["child", "slot", "content"].iter().any(|word| words(text).any(|w| w.to_lowercase().starts_with(word)));
    if deliberate && advises && of_content() {
        return true;
    }
    // What is not passed and has to be, whatever its type says.
    let is_missed =
        |name: &str| checked.combination.props.get(name).is_none_or(|v| *v == Value::Absent) && words(text).any(|word| word == name);
    if deliberate && text.contains("required") && context.surface.props.iter().any(|prop| is_missed(&prop.name)) {
        return true;
    }
    let mut made_up = made_up(&checked.combination, context);
    let speaks_of = |name: &str| {
        let of_prop = crate::plan::words(name);
        words(text).any(|word| word.len() > 4 && of_prop.iter().any(|of| of.eq_ignore_ascii_case(word)))
    };
    deliberate
        && made_up.any(|(name, value)| {
            refuses
                || thrown
                || names(text, name)
                || tells(text, value)
                || quotes(text, value)
                || (advises || speaks_of(name)) && is_free(value)
        })
}

/// The values of a combination that the plan made up beyond the plainest ones.
fn made_up<'c>(combination: &'c Combination, context: &'c LawContext<'_>) -> impl Iterator<Item = (&'c String, &'c Value)> {
    let plain = context.combinations.first();
    combination.props.iter().filter(move |(name, value)| {
        let is_plain = plain.and_then(|p| p.props.get(*name)) == Some(*value);
        !is_plain && **value != Value::Absent && !context.given.contains(name)
    })
}

/// The words of a message.
fn words(text: &str) -> impl Iterator<Item = &str> {
    text.split(|c: char| !(c.is_alphanumeric() || "_$-".contains(c))).filter(|w| !w.is_empty())
}

/// Whether a text names a prop, as it is written or by all of its words: "Hour increment cannot be 0" is said of `incrementHours`.
fn names(text: &str, prop: &str) -> bool {
    let stem = |word: &str| word.to_lowercase().trim_end_matches('s').to_owned();
    // "is", "on" and the like are in any sentence.
    let of_prop: Vec<String> = crate::plan::words(prop).iter().filter(|word| word.len() > 2).map(|word| stem(word)).collect();
    let said: Vec<String> = words(text).map(stem).collect();
    words(text).any(|word| word == prop) || of_prop.len() > 1 && of_prop.iter().all(|word| said.contains(word))
}

fn tells(text: &str, value: &Value) -> bool {
    match value {
        Value::Json(serde_json::Value::String(told)) => (told.chars().count() > 2 || !told.is_ascii()) && text.contains(told.as_str()),
        Value::Json(serde_json::Value::Number(told)) => words(text).any(|word| word == told.to_string()),
        _ => false,
    }
}

/// Nothing is logged as a warning or an error. What other laws demand is told by them. Each thing that is warned of is a fault of its own.
pub(super) fn quiet(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    let mut told: Vec<String> = Vec::new();
    for combination in context.combinations {
        let observation = runs.play(&mount(combination))?;
        let warned = warned_of(&observation, combination, context);
        for (about, _) in &warned {
            if !told.contains(about) {
                told.push(about.clone());
            }
        }
        let events = observation.phases.iter().flat_map(|p| &p.events).map(crate::judge::check::in_words).collect();
        out.push((Checked { combination: combination.clone(), failure: None, events, about: None }, warned));
    }
    if told.is_empty() {
        let mut out: Vec<Checked> = out.into_iter().map(|(checked, _)| checked).collect();
        if !context.is_scene {
            out.extend(prop::warned(context, runs)?);
        }
        return Ok(out);
    }
    // A case that warns of one thing may hold about another.
    let about = |(checked, warned): &(Checked, Vec<(String, Failure)>), about: &String| {
        let failure = warned.iter().find(|(a, _)| a == about).map(|(_, f)| f.clone());
        Checked { failure, about: Some(about.clone()), ..checked.clone() }
    };
    Ok(out.iter().flat_map(|case| told.iter().map(|t| about(case, t)).collect::<Vec<_>>()).collect())
}

/// What a case warns of, with what it is about.
fn warned_of(observation: &Observation, combination: &Combination, context: &LawContext<'_>) -> Vec<(String, Failure)> {
    let surface = context.surface;
    // An error that was thrown is told by render/succeeds; frameworks log about it once more.
    if first(observation, Tone::Failed).is_some() {
        return Vec::new();
    }
    let mut out: Vec<(String, Failure)> = Vec::new();
    for note in observation.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Warned) {
        let warning = warnings::read(&note.text);
        let is_registered = warning.as_ref().is_some_and(|w| is_registered(w, context));
        // What is not around it is told by itself: it is no fault of the component's.
        let is_missing = (is_registered || missing::read(&note.text).is_some()) && !context.is_scene;
        if is_missing || is_of_made_up_use(&note.text, context) {
            continue;
        }
        // A component that warns by itself, of what the plan made up and of nothing plainer, refuses it; so does HTML what a slot is given.
        let misplaced = is_misplaced(&note.text, combination, observation.mount());
        if misplaced || warning.is_none() && is_own_refusal(note, combination, context) {
            continue;
        }
        if warning.as_ref().is_some_and(|w| {
            let further_in = is_refused_further_in(w, combination, context);
            w.is_of_another_law()
                || is_ours(w, context)
                || further_in
                || is_for_content(w, combination, context)
                || is_of_made_up_name(w, combination, context)
                || w.kind == warnings::Kind::NoCount && made_up(combination, context).any(|(_, value)| is_number(value))
        }) {
            continue;
        }
        let about = warning.as_ref().map_or_else(String::new, |w| w.in_words(&surface.name));
        if out.iter().any(|(known, _)| *known == about) {
            continue;
        }
        let mut failure = of_note(if about.is_empty() { "it warned".into() } else { format!("it warned: {about}") }, note);
        // A framework warns from its own code: what it names is declared in the component's.
        failure.place = failure.place.take().filter(|place| package_of(&place.file) == package_of(&surface.file));
        failure.place = failure.place.or_else(|| warning.and_then(|w| w.declared_at(surface)));
        out.push((about, failure));
    }
    out
}

/// Words of somebody who wants something that was left out.
const WANTED: [&str; 12] =
    ["empty", "issing", "without", "equire", " expect", "Expect", "provide", "must", "should", "need", "no ", "not "];

/// Whether a component's own code wrote a warning, by a value that the plan made up: an empty list, a name that there is not.
fn is_own_refusal(note: &Note, combination: &Combination, context: &LawContext<'_>) -> bool {
    let own = note.place.as_ref().is_some_and(|place| package_of(&place.file) == package_of(&context.surface.file));
    let by_value = made_up(combination, context).any(|(name, value)| (own || names(&note.text, name)) && tells(&note.text, value));
    let is_absurd = |value: &Value| match value {
        Value::Json(serde_json::Value::Array(list)) => list.is_empty(),
        Value::Json(serde_json::Value::String(text)) => text.is_empty(),
        Value::Json(serde_json::Value::Number(number)) => number.as_f64().is_some_and(|n| n <= 0.0),
        Value::Json(serde_json::Value::Null) => true,
        _ => false,
    };
    let by_text = REFUSALS.iter().any(|words| note.text.contains(words))
        && made_up(combination, context).any(|(_, value)| matches!(value, Value::Json(serde_json::Value::String(_))));
    // Advice of its own on how props go together, or on what they may be: who says his name first speaks to a stranger.
    let advises = || {
        let begun = note.text.trim_start_matches(['[', '<']);
        let tag = begun.get(..context.surface.export.len()).filter(|_| context.surface.export.contains('-'));
        let is_tag = tag.is_some_and(|tag| tag.eq_ignore_ascii_case(&context.surface.export));
        let says_its_name = (is_tag || begun.starts_with(&context.surface.name)) && !note.text.contains("Error");
        ADVICE.iter().any(|words| note.text.contains(words)) || says_its_name
    };
    let has_made_up = || made_up(combination, context).next().is_some() || context.given.is_empty() && context.combinations.len() > 1;
    let by_quote = own && combination.props.iter().any(|(name, value)| !context.given.contains(name) && quotes(&note.text, value));
    // Content that was left out, in words of its own: a slot is empty.
    let asks_for_content = || {
        let is_left_out = combination.fills.values().any(Option::is_none) || combination.fills.is_empty();
        let of_content = ["child", "slot", "content"].iter().any(|word| words(&note.text).any(|w| w.to_lowercase().starts_with(word)));
        is_left_out && of_content && WANTED.iter().any(|word| note.text.contains(word)) && !context.surface.slots.is_empty()
    };
    // A prop that is declared as one that may be left out, and wanted all the same: who uses the component is spoken to, and heeds it.
    let asks_for_prop = || {
        let is_nothing = |v: &Value| *v == Value::Absent || *v == Value::json("");
        let is_left_out = |p: &&Prop| !p.required && combination.props.get(&p.name).is_none_or(is_nothing);
        let named = |p: &Prop| ['"', '\'', '`'].iter().any(|q| note.text.contains(&format!("{q}{}{q}", p.name)));
        WANTED.iter().any(|word| note.text.contains(word)) && context.surface.props.iter().filter(is_left_out).any(named)
    };
    // Every callback is listened to, also one that is not for parents.
    let by_callback = || {
        let quoted = |name: &str| ['"', '\'', '`'].iter().any(|q| note.text.contains(&format!("{q}{name}{q}")));
        context.surface.framework.record().passes_all_as_props && context.surface.events.iter().any(|event| quoted(&event.written))
    };
    by_value
        || asks_for_prop()
        || by_callback()
        || by_text
        || by_quote
        || own && asks_for_content()
        || own && (made_up(combination, context).any(|(_, value)| is_absurd(value)) || has_made_up() && advises())
}

/// Whether a text has a word of the plan's in quotes, wherever it stands in what is passed: a section of this name is not on the page.
fn quotes(text: &str, value: &Value) -> bool {
    texts_in(value).iter().any(|t| ['"', '\'', '`'].iter().any(|q| text.contains(&format!("{q}{t}{q}"))))
}

/// The texts in a value that say enough to be known again, where they stand in quotes.
fn texts_in(value: &Value) -> Vec<String> {
    fn of(json: &serde_json::Value, out: &mut Vec<String>) {
        match json {
            serde_json::Value::String(text) if text.len() > 1 => out.push(text.clone()),
            serde_json::Value::Array(list) => list.iter().for_each(|v| of(v, out)),
            serde_json::Value::Object(fields) => fields.values().for_each(|v| of(v, out)),
            _ => {}
        }
    }
    let mut out = Vec::new();
    if let Value::Json(json) = value {
        of(json, &mut out);
    }
    out
}

/// Whether it says that something is deprecated: that it was used is the plan's doing, which passes all that there is.
fn is_of_made_up_use(text: &str, context: &LawContext<'_>) -> bool {
    let text = text.to_ascii_lowercase();
    context.given.is_empty() && (text.contains("deprecated") || text.contains("please use") && text.contains("instead"))
}

/// Whether a component hands a prop of nobody's to the elements that it was given as content: it counts on parts of its own there.
fn is_for_content(warning: &Warning, combination: &Combination, context: &LawContext<'_>) -> bool {
    let is_own = warning.of.as_deref().is_none_or(|of| context.surface.prop(of).is_some());
    !is_own && warning.kind == warnings::Kind::UnknownProp && combination.fills.values().any(Option::is_some)
}

/// Whether it is about a value that the plan made up by the declared type and the component refuses: no parent would pass it.
fn is_ours(warning: &Warning, context: &LawContext<'_>) -> bool {
    // What a component hands on under the same name is refused further in.
    let own = warning.within.as_ref().is_none_or(|w| *w == context.surface.name) || warning.kind == warnings::Kind::RefusedValue;
    let known = warning.of.as_deref().is_some_and(|of| context.surface.prop(of).is_some());
    // A required prop that its source does not tell is one that the plan could not pass.
    if warning.of.is_some()
        && !known
        && context.surface.open
        && warning.is_of_a_value()
        && warning.within.as_ref() == Some(&context.surface.name)
    {
        return true;
    }
    let prop = warning.of.as_deref().filter(|_| known);
    own && warning.is_of_a_value() && prop.is_some_and(|prop| !context.given.iter().any(|given| given == prop))
}

/// Whether a child's validator refuses what came of a text that the plan made up, under whatever name it was handed on: the name of an icon. What
/// it refuses in the plainest combination, too, may be the component's own.
fn is_refused_further_in(warning: &Warning, combination: &Combination, context: &LawContext<'_>) -> bool {
    let is_of_child = warning.within.as_ref().is_some_and(|within| *within != context.surface.name);
    is_of_child
        && warning.kind == warnings::Kind::RefusedValue
        && made_up(combination, context).any(|(_, value)| !texts_in(value).is_empty())
}

/// Whether it is about a component that the application gives to all templates.
pub(super) fn is_registered(warning: &Warning, context: &LawContext<'_>) -> bool {
    warning.kind == warnings::Kind::UnknownElement && warning.of.as_deref().is_some_and(|name| context.application.registers(name))
}

/// Whether it is about a component that a prop names, by a text that the plan made up or by its default: who registers it is around the
/// component.
pub(super) fn is_of_made_up_name(warning: &Warning, combination: &Combination, context: &LawContext<'_>) -> bool {
    let Some(named) = warning.of.as_deref().filter(|_| warning.kind == warnings::Kind::UnknownElement) else { return false };
    let is_given = |prop: &str| context.given.iter().any(|given| given == prop);
    let is_it = |value: &Value| matches!(value, Value::Json(serde_json::Value::String(text)) if text == named);
    let by_default = context.surface.props.iter().any(|prop| {
        let written = prop.default.as_deref().map(|text| text.trim_matches(['\'', '"', '`']));
        written == Some(named) && combination.props.get(&prop.name).is_none_or(|value| *value == Value::Absent)
    });
    by_default || combination.props.iter().any(|(name, value)| !is_given(name) && is_it(value))
}

fn is_number(value: &Value) -> bool {
    matches!(value, Value::Json(serde_json::Value::Number(_)))
}

/// It comes to rest.
pub(super) fn settles(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    each(context, runs, |o| {
        let rests = o.phases.iter().all(|p| p.settled);
        (!rests).then(|| Failure {
            message: "it keeps itself busy without end".into(),
            expected: Some("rest within 2,000 tasks, 250 of them each started by the one before".into()),
            actual: Some("more tasks still waiting".into()),
            ..Failure::default()
        })
    })
}

/// Two fresh mounts of one combination are the same. Chance is seeded otherwise in the second.
pub(super) fn repeatable(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for combination in context.some(8) {
        let first = runs.play(&mount(combination))?;
        let second = runs.play(&Script { seed: 2, ..mount(combination) })?;
        let (a, b) = (first.mount().map(observable).unwrap_or_default(), second.mount().map(observable).unwrap_or_default());
        let failure = (a != b).then(|| {
            let (expected, actual) = difference(&a, &b);
            Failure {
                message: "a second mount of the same shows something else".into(),
                expected: Some(expected),
                actual: Some(actual),
                ..Failure::default()
            }
        });
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

/// After the removal nothing of it is left: what a second life of the component adds to what the first one left is what each
/// leaves. What a library sets up once for all its components does not grow, and does not count.
pub(super) fn leaves_nothing(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out = Vec::new();
    for (i, combination) in context.some(16).into_iter().enumerate() {
        let mounted = runs.play(&mount(combination))?;
        let Some(seen) = mounted.mount().filter(|s| s.settled && !failed(&mounted)) else { continue };
        // Listeners often come with the first use, of a menu that opens for one.
        let acts = if i < context.effort.most(4) { acts(seen) } else { Vec::new() };
        // What waits for a moment, to end a transition or to look once more, is no leftover: it is waited for where something is left.
        let mut left = None;
        for milliseconds in [1_000, 15_000] {
            let remove = vec![Step::Remove, Step::Elapse { milliseconds }];
            let life: Vec<Vec<Step>> = acts.iter().cloned().chain([remove]).collect();
            let phases: Vec<Vec<Step>> = life.iter().cloned().chain([vec![Step::Again]]).chain(life.iter().cloned()).collect();
            let observation = runs.play(&Script { phases, ..mount(combination) })?;
            let (Some(once), Some(twice)) = (observation.phases.get(life.len()), observation.phases.last()) else { break };
            left = (!failed(&observation)).then(|| grown(once.left, twice.left));
            if left.as_ref().is_none_or(Option::is_none) {
                break;
            }
        }
        let Some(left) = left else { continue };
        let of_it = |message: &str, actual: String| Failure {
            message: message.into(),
            expected: Some("nothing".into()),
            actual: Some(actual),
            ..Failure::default()
        };
        let failure = match left {
            Some(what) => Some(of_it("after it was removed something of it is left, more each time", what)),
            None => late_words(combination, seen, runs)?.map(|words| of_it("long after it was removed it still tells its parent", words)),
        };
        out.push(Checked { combination: combination.clone(), failure, events: Vec::new(), about: None });
    }
    Ok(out)
}

/// What a component tells its parent when a timer that it left comes to its end; what it tells while it is being removed is no part of it.
fn late_words(combination: &Combination, seen: &PhaseSnapshot, runs: &mut dyn Runs) -> Result<Option<String>, StageError> {
    if seen.left.timers == 0 {
        return Ok(None);
    }
    let phases = vec![vec![Step::Remove], vec![Step::Elapse { milliseconds: 15_000 }]];
    let observation = runs.play(&Script { phases, ..mount(combination) })?;
    let Some(last) = observation.phases.get(2).filter(|_| !failed(&observation)) else { return Ok(None) };
    let told: Vec<String> = last.events.iter().map(crate::judge::check::in_words).collect();
    Ok((!told.is_empty()).then(|| told.join(", ")))
}

/// A control and where it was pressed.
type Pressed = (Rc<PhaseSnapshot>, NodeId);

/// What is shown after an act, and after a while, is what the framework shows when it renders all of it anew: what changed and was not
/// told of stays as it was on the page. A component that a rendering changes by itself has no such state.
pub(super) fn current(context: &LawContext<'_>, runs: &mut dyn Runs) -> LawOutcome {
    let mut out: Vec<Checked> = Vec::new();
    if !context.surface.framework.record().renders_on_request {
        return Ok(out);
    }
    // Time passes only where something waits for it: a component may tell the time whenever it is rendered.
    let waits = |seen: &PhaseSnapshot| seen.left.timers > 0 || seen.left.requests > 0;
    let mut scripts: Vec<(Combination, Vec<Step>, bool, Option<Pressed>)> = Vec::new();
    for combination in context.some(4) {
        if runs.play(&mount(combination))?.mount().is_some_and(waits) {
            scripts.push((combination.clone(), Vec::new(), true, None));
        }
    }
    // What is typed is in the page's own fields: whether a rendering keeps them is another law's.
    let presses = pressing::each(context, runs)?.into_iter().filter(pressing::Acted::is_press);
    scripts.extend(presses.map(|acted| {
        let waits = waits(&acted.after);
        (acted.combination, acted.lead.into_iter().chain([acted.step]).collect(), waits, Some((acted.before, acted.node)))
    }));
    for (combination, steps, waits, pressed) in scripts {
        let acts: Vec<Step> = steps.iter().cloned().chain(waits.then_some(pressing::REST)).collect();
        let phases = vec![vec![Step::Refresh], acts, vec![Step::Refresh]];
        let observation = runs.play(&Script { phases, ..mount(&combination) })?;
        let [first, idle, shown, anew] = observation.phases.as_slice() else { continue };
        let faulty = observation.phases.iter().any(|p| !p.faults.is_empty() || !p.settled);
        if failed(&observation) || faulty || observable(first) != observable(idle) {
            continue;
        }
        // Where the focus is says nothing of what is shown: it goes with an element that is made anew, and other laws tell that.
        let without_focus = |seen: &PhaseSnapshot| observable(seen).replace(" focused=\"\"", "");
        let failure = (without_focus(shown) != without_focus(anew)).then(|| {
            let (expected, actual) = difference(&observable(anew), &observable(shown));
            let after = steps.last().map_or_else(|| "a second after the mount".to_owned(), |step| format!("after `{step}`"));
            Failure {
                message: format!("{after} it shows something else as soon as it is rendered anew"),
                expected: Some(expected),
                actual: Some(actual),
                ..pressed.map_or_else(Failure::default, |(seen, node)| broken_at(&seen.tree, node))
            }
        });
        // Whatever is done in a combination, it holds there or it does not.
        match out.iter_mut().find(|checked| checked.combination == combination) {
            Some(known) => known.failure = known.failure.take().or(failure),
            None => out.push(Checked { combination, failure, events: Vec::new(), about: None }),
        }
    }
    Ok(out)
}

fn grown(once: LeakCounts, twice: LeakCounts) -> Option<String> {
    let kinds = [
        ("element in the body", "elements in the body", once.nodes, twice.nodes),
        ("listener on the window or the document", "listeners on the window or the document", once.listeners, twice.listeners),
        ("timer", "timers", once.timers, twice.timers),
        ("observer", "observers", once.observers, twice.observers),
        ("request under way", "requests under way", once.requests, twice.requests),
        ("open connection", "open connections", once.connections, twice.connections),
    ];
    let more: Vec<String> = kinds
        .iter()
        .filter(|(.., a, b)| b > a)
        .map(|(one, many, a, b)| if b - a == 1 { format!("1 {one}") } else { format!("{} {many}", b - a) })
        .collect();
    (!more.is_empty()).then(|| more.join(", "))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_message_names_a_prop_by_a_word_and_tells_its_value() {
        let text = "Error: minSize must be positive, got 0.";
        assert!(names(text, "minSize") && !names(text, "min") && !names(text, "size"));
        assert!(tells(text, &Value::json(0)) && !tells(text, &Value::json(10)) && !tells(text, &Value::json("mu")));
        assert!(tells("Error: no target 'mug' here", &Value::json("mug")) && !tells(text, &Value::json(true)));
    }

    #[test]
    fn only_what_grows_is_left() {
        let once = LeakCounts { nodes: 1, listeners: 2, observers: 1, ..LeakCounts::default() };
        assert_eq!(grown(once, once), None);
        let twice = LeakCounts { listeners: 4, timers: 1, ..once };
        assert_eq!(grown(once, twice).as_deref(), Some("2 listeners on the window or the document, 1 timer"));
    }
}
