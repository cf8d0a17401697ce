//! What a component asks of what is around it and did not find, read from the words of frameworks and of those who write parts for them: a
//! provider, a parent, a plugin. Such a component is not broken: it cannot be judged alone.

use std::sync::LazyLock;

use regex::Regex;

use crate::finding::Failure;
use crate::observation::{Observation, Tone};
use crate::surface::Surface;

/// What is not there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Missing {
    /// What was said of it.
    pub said: String,
    /// What a person can write, so that it is there.
    pub remedy: &'static str,
}

const WRAP: &str = "say under `wrap` what it stands in, in a contract or for all in fidelon.toml";
const CONTENT: &str = "give it its parts under `slots:` in a contract";
/// What a person can write, so that what an application sets up is there.
pub const SETUP: &str = "the project's own start gives it: name a module that does so under `setup` in fidelon.toml";
const LOCALIZE: &str = "a module that imports '@angular/localize/init' can be named under `setup` in fidelon.toml";
const BROWSER: &str = "a browser has it: `--stage browser`";
const NETWORK: &str = "give a canned reply under `network` in a contract";

/// Words and what they ask for; the first that match count.
static WORDS: LazyLock<Vec<(Regex, &str)>> = LazyLock::new(|| {
    let words = [
        (r"\$localize is not defined|dependencies is using i18n", LOCALIZE),
        // Angular's injector; Vue's.
        (r"NG0201|No provider (?:found )?for |NullInjectorError", SETUP),
        (r#"^injection ".*" not found|injection "[^"]*" not found"#, WRAP),
        (r"Failed to resolve directive: ", SETUP),
        // What a plugin puts on every instance: `$router`, `$t`.
        (r#"Property "\$\w+" was accessed during render but is not defined"#, SETUP),
        // An icon, a word, a scheme that an application gives to a library by its name.
        (r"(?i)\b(?:is not|isn't|has not been|hasn't been|was not) registered\b", SETUP),
        (r"(?i)\buse (?:an? |the )?<?\w+Provider\b", WRAP),
        (r"(?i)\bthere (?:is|was) no active \w+", SETUP),
        (r"(?i)\b(?:may|can|should|must) be used only (?:in|with|by)", WRAP),
        (r"(?i)no (?:active )?(?:pinia|router|store|client) (?:was )?(?:found|set|provided|active)", SETUP),
        // What those say who read a context and find none.
        (
            r"(?i)(?:must|can only|may only|should(?: only)?|has to|needs to) be (?:used|placed|rendered|wrapped|nested|called|a (?:child|descendant)) ?(?:with)?(?:in(?:side)?|of|by|as)\b",
            WRAP,
        ),
        (r"(?i)\b(?:used?|called|rendered|placed)\b[^\n.]{0,40}\boutside(?: of)?\b", WRAP),
        (r"(?i)(?:wrap(?:ped)? (?:\S+ ){0,4}(?:in|with|by) (?:an? |the )?<?\w*(?:Provider|Context|Root|Group))", WRAP),
        (
            r#"(?i)\w*context\b[^\n]{0,80}?\b(?:not found|missing|undefined|null|not available|not provided|is required|could not be found)"#,
            WRAP,
        ),
        (r"(?i)(?:missing|no|could not find|cannot find|unable to find|not find)\b[^\n]{0,60}?\b(?:context|provider)\b", WRAP),
        (r"(?i)\b(?:needs|has|have|requires?) (?:to (?:be )?)?(?:a )?(?:parent|wrapped|inside|within)\b", WRAP),
        (r"(?i)useContext\([^)]*\).{0,40}\b(?:undefined|null)", WRAP),
        (r"(?i)no canned reply|nothing answers|A component on the stage has no network", NETWORK),
    ];
    words.into_iter().map(|(pattern, remedy)| (Regex::new(pattern).expect("the pattern is well-formed"), remedy)).collect()
});

/// Errors of what reads something of nothing.
static OF_NOTHING: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r"TypeError|(?i)of (?:undefined|null)\b|is (?:undefined|null|not a function|not iterable)")
        .expect("the pattern is well-formed")
});

/// What an error comes of that a component throws in every combination, if its source asks for a context: of one that nobody gives it. One
/// that it throws on purpose, in words of its own, says so itself.
pub fn of_refused_context(text: &str) -> Option<Missing> {
    let first = text.lines().next().unwrap_or_default();
    first.starts_with("Error: ").then(|| {
        let said = first_words(text);
        Missing { said: format!("it asks for a context that nothing around it gives, and refuses to go on: {said}"), remedy: WRAP }
    })
}

/// The same of an error of the language, about something that is nothing.
pub fn of_context(text: &str) -> Option<Missing> {
    OF_NOTHING.is_match(text).then(|| {
        let said = first_words(text);
        Missing { said: format!("it asks for a context that nothing around it gives, and then: {said}"), remedy: WRAP }
    })
}

/// What is thrown about something that is nothing, after a framework has warned that something around it is missing.
pub fn of_warning(observation: &Observation, text: &str) -> Option<Missing> {
    let warned = observation.phases.iter().flat_map(|p| &p.notes).filter(|n| n.tone == Tone::Warned);
    OF_NOTHING.is_match(text).then(|| warned.into_iter().find_map(|n| read(&n.text))).flatten()
}

/// What is thrown after requests to which nobody replied: who asks counts on an answer.
pub fn of_requests(observation: &Observation, text: &str) -> Option<Missing> {
    let request = observation.phases.iter().flat_map(|p| &p.requests).find(|r| !r.answered)?;
    let said = first_words(text);
    Some(Missing { said: format!("nothing answers its request {} {}, and then: {said}", request.method, request.url), remedy: NETWORK })
}

/// What a person reads first of a message.
fn first_words(text: &str) -> String {
    text.lines().next().unwrap_or_default().chars().take(120).collect()
}

/// Whether a source asks for what is around a component: `getContext('Tabs')`, `inject(Tabs)`, `useKilnContext()`, `KilnContext.consume()`, Vue's
/// option `inject: […]`.
pub fn asks_around(source: &str) -> bool {
    static ASKS: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(
            r"\b(?:get|use|inject|read)\w*(?:Context|Ctx)\s*(?:<[^>\n]*>)?\(|\binject\w*\s*(?:<[^>\n]*>)?\(|\b\w*Context\.(?:get|use|consume|inject|read)\w*\(|(?m)^\s*inject\s*:\s*[\[{]",
        )
        .expect("the pattern is well-formed")
    });
    ASKS.is_match(source)
}

/// Whether a source speaks to a component's content: `setContext('Tabs', …)`, `provide(Tabs, …)`, `<Tabs.Provider>`, `@ContentChildren(Tab)`.
pub fn speaks_to_content(source: &str) -> bool {
    static SPEAKS: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(
            r"\b(?:setContext|provide|contentChild(?:ren)?(?:\.required)?)\s*(?:<[^>\n]*>)?\(|(?m)^\s*provide\s*:\s*\{|<\w*(?:Context|\.Provider)\b[^>]*\bvalue=|@ContentChild(?:ren)?\(",
        )
        .expect("the pattern is well-formed")
    });
    SPEAKS.is_match(source)
}

/// What an error comes of that a component throws in every combination, where it speaks to its content and has been given none that answers.
pub fn of_content(text: &str) -> Option<Missing> {
    OF_NOTHING.is_match(text).then(|| {
        let said = first_words(text);
        Missing { said: format!("it speaks to the parts in its content, and there are none: {said}"), remedy: CONTENT }
    })
}

/// The lines of a source, from 1, that use a name which was taken from a context: `const { turn } = useContext(Kiln)`.
pub fn lines_of_context(source: &str) -> Vec<u32> {
    static TAKES: LazyLock<Regex> = LazyLock::new(|| {
        Regex::new(
            r"\b(?:const|let|var)\s*(\{[^}]*\}|\w+)\s*(?::[^=\n]*)?=\s*(?:(?:\w+\.)?(?:(?:get|use|inject|read)\w*(?:Context|Ctx)|inject)|\w*Context\.(?:get|use|consume|inject|read)\w*)\s*(?:<[^>\n]*>)?\(",
        )
        .expect("the pattern is well-formed")
    });
    let mut names: Vec<&str> = Vec::new();
    for found in TAKES.captures_iter(source) {
        let pattern = found.get(1).map_or("", |m| m.as_str());
        for part in pattern.trim_matches(['{', '}']).split(',') {
            // `turn: turnKiln = none`: the last name before a default is the one that is used.
            let bound = part.split('=').next().unwrap_or_default().rsplit(':').next().unwrap_or_default().trim();
            if !bound.is_empty() {
                names.push(bound);
            }
        }
    }
    names.extend(injected(source));
    let is_word = |c: char| c.is_alphanumeric() || c == '_' || c == '$';
    let uses = |line: &str| names.iter().any(|name| line.split(|c| !is_word(c)).any(|word| word == *name));
    (1u32..).zip(source.lines()).filter(|(_, line)| uses(line)).map(|(number, _)| number).collect()
}

/// The names that Vue's option `inject` gives to what is around a component: `inject: ['kiln']`, `inject: { kiln: { from: KILN } }`.
fn injected(source: &str) -> Vec<&str> {
    static OPTION: LazyLock<Regex> = LazyLock::new(|| Regex::new(r"(?m)^\s*inject\s*:\s*([\[{])").expect("the pattern is well-formed"));
    static NAME: LazyLock<Regex> = LazyLock::new(|| Regex::new(r"[A-Za-z_$][\w$]*").expect("the pattern is well-formed"));
    let Some(opened) = OPTION.captures(source).and_then(|found| found.get(1)) else { return Vec::new() };
    let is_list = opened.as_str() == "[";
    let (mut out, mut depth, mut is_key) = (Vec::new(), 0usize, true);
    let mut at = opened.start();
    while let Some(c) = source[at..].chars().next() {
        match c {
            '[' | '{' | '(' => depth += 1,
            ']' | '}' | ')' if depth == 1 => break,
            ']' | '}' | ')' => depth -= 1,
            ',' if depth == 1 => is_key = true,
            ':' if depth == 1 => is_key = false,
            c if (c.is_ascii_alphabetic() || c == '_' || c == '$') && depth == 1 && (is_key || is_list) => {
                let name = NAME.find_at(source, at).filter(|found| found.start() == at);
                out.extend(name.map(|found| found.as_str()));
                at += name.map_or(c.len_utf8(), |found| found.len());
                continue;
            }
            _ => {}
        }
        at += c.len_utf8();
    }
    out
}

/// What a failure comes of that says itself what is not there, or that stands on a line which uses a context's value and is of nothing: of a
/// context that nobody gives.
pub fn explains(surface: &Surface, failure: &Failure) -> Option<Missing> {
    if let Some(missing) = failure.actual.as_deref().and_then(read) {
        return Some(missing);
    }
    let place = failure.place.as_ref().filter(|place| place.file == surface.file && surface.around.contains(&place.line))?;
    failure.actual.as_deref().and_then(of_context).filter(|_| place.line > 0)
}

/// Names that Chromium 156 gives a page and the embedded stage does not, one a line.
const PAGE_INTERFACES: &str = include_str!("page_interfaces.txt");

/// The interface of a page that only a browser has.
fn of_browser(text: &str) -> Option<Missing> {
    static NAMED: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"ReferenceError: ([A-Za-z]\w*) is not defined").expect("the pattern is well-formed"));
    let name = NAMED.captures(text)?.get(1)?.as_str();
    let is_known = PAGE_INTERFACES.lines().any(|known| known == name);
    is_known.then(|| Missing { said: format!("there is no `{name}` on this stage"), remedy: BROWSER })
}

/// The package that is not installed, as the loader says to who imports it in the middle of its work.
fn of_package(text: &str) -> Option<Missing> {
    static PACKAGE: LazyLock<Regex> =
        LazyLock::new(|| Regex::new(r"the package `[^`]+` is not installed").expect("the pattern is well-formed"));
    let found = PACKAGE.find(text)?;
    Some(Missing { said: found.as_str().to_owned(), remedy: "add it to the project" })
}

/// What a message says is not there; none for any other message.
pub fn read(text: &str) -> Option<Missing> {
    if let Some(missing) = of_package(text).or_else(|| of_browser(text)) {
        return Some(missing);
    }
    let (_, remedy) = WORDS.iter().find(|(words, _)| words.is_match(text))?;
    let said = text.lines().map(str::trim).find(|line| !line.is_empty())?;
    let said = said.strip_prefix("[Vue warn]: ").unwrap_or(said);
    let said: String = said.chars().take(160).collect();
    Some(Missing { said, remedy })
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_is_asked_for_is_told_from_what_is_wrong() {
        for text in [
            "[Vue warn]: injection \"$tabs\" not found. \n  at <Tab>",
            "Error: NG0201: No provider found for `Tabs`.",
            "NullInjectorError: R3InjectorError[Clock -> Clock]: NullInjectorError: No provider for Clock!",
            "ReferenceError: $localize is not defined",
            "ReferenceError: WebAssembly is not defined\n\tin <unknown>",
            "ReferenceError: indexedDB is not defined",
            "TypeError: A component on the stage has no network: GET /signs.svg was not sent.",
            "Error: useKiln must be used within a KilnProvider",
            "Error: `Tab` must be placed inside `Tabs`",
            "Error: Glaze can only be rendered inside Kiln.",
            "Error: KilnContext is undefined",
            "Error: Context \"Accordion.Root\" not found",
            "Error: Context \"Menu.Root | Menu.Sub\" not found",
            "Error: [kobalte]: `useAccordionContext` must be used within a `Accordion` component",
            "Error: could not find react-redux context value; please ensure the component is wrapped in a <Provider>",
            "Error: Missing KilnContext.Provider",
            "Error: No KilnClient set, use KilnClientProvider to set one",
            "Error: \"getKiln()\" was called but there was no active Kiln. Did you forget to fire it?",
            "Error: useShelf() may be used only in the context of a <Studio> component.",
            "you can't use Shelf outside of a Kiln component",
            "[Vue warn]: Failed to resolve directive: glaze",
            "[Vue warn]: Property \"$kilns\" was accessed during render but is not defined on instance.",
            "TypeError: Cannot destructure property 'heat' of 'useContext(...)' as it is undefined.",
            "Error: src/Plan.vue: the package `glaze-plan` is not installed: add it to the project",
        ] {
            assert!(read(text).is_some(), "{text}");
        }
        for text in [
            "TypeError: cannot read property 'map' of undefined",
            "ReferenceError: kiln is not defined",
            "[Vue warn]: Missing required prop: \"label\"",
            "Warning: Each child in a list should have a unique \"key\" prop.",
            "Error: the kiln is outside of its range",
            "Error: options must be an array",
        ] {
            assert_eq!(read(text), None, "{text}");
        }
        for (source, asks) in [
            ("const { add } = getContext('Tabs')", true),
            ("const kiln = inject<Kiln>(KILN)", true),
            ("const { open } = useAccordionContext()", true),
            ("const kiln = KilnContext.consume()", true),
            ("export default defineComponent({\n  inject: { parent: { from: TABS } },\n})", true),
            ("const glaze = useState(1); project(2)", false),
            ("const options = { reinject: [1] }", false),
        ] {
            assert_eq!(asks_around(source), asks, "{source}");
        }
        for (source, speaks) in [
            ("setContext('shelf', { pieces })", true),
            ("provide<Kiln>(KILN, kiln)", true),
            ("return <Kiln.Provider value={kiln}>{children}</Kiln.Provider>", true),
            ("@ContentChildren(Shelf) shelves", true),
            ("shelves = contentChildren.required<Shelf>(Shelf)", true),
            ("export default { provide: { kiln: 1 } }", false),
            ("export default {\n  provide: { kiln: 1 } }", true),
            ("provider.setup(); const provided = 1", false),
        ] {
            assert_eq!(speaks_to_content(source), speaks, "{source}");
        }
        let source = "const { turn, heat: warm = 2 } = useContext(Kiln)\n\nreturn <b onClick={() => turn(1)}>{warm}</b>\nheat()";
        assert_eq!(lines_of_context(source), [1, 3]);
        assert_eq!(lines_of_context("const kiln = KilnContext.consume()\nconst heat = $derived(kiln().heat)"), [1, 2]);
        let options = "export default {\n  inject: {\n    shelf: { from: SHELF, default: undefined }, kiln: 'kiln' },\n  computed: {\n    full() { return this.shelf.full },\n    warm() { return this.kiln.heat },\n    from() { return SHELF } } }";
        assert_eq!(lines_of_context(options), [3, 5, 6]);
        assert_eq!(lines_of_context("export default {\n  inject: ['kiln', \"shelf\"],\n  mounted() { this.shelf.add() } }"), [2, 3]);
        assert!(of_context("TypeError: Cannot convert undefined or null to object").is_some() && of_context("Error: too hot").is_none());
        assert!(of_refused_context("Error: a sign stands in a studio").is_some() && of_refused_context("TypeError: x").is_none());
        let missing = read("[Vue warn]: injection \"$tabs\" not found. \n  at <Tab>").expect("it is");
        assert_eq!(missing.said, "injection \"$tabs\" not found.");
    }
}
