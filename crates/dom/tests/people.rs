//! What a person finds on a page: roles, names, values, what can be reached and what is hidden.

use fidelon_dom::{Document, NodeId, Selectors, accessible_name, form, parse, role, role_of, serialize};

fn one(doc: &Document, selector: &str) -> NodeId {
    let found = Selectors::parse(selector).expect("a selector").query_all(doc, Document::ROOT);
    assert_eq!(found.len(), 1, "{selector}");
    found[0]
}

/// The node that the tables below ask about has the class `x`.
fn asked(html: &str) -> (Document, NodeId) {
    let doc = parse::document(html);
    let node = one(&doc, ".x");
    (doc, node)
}

#[test]
fn roles_follow_from_elements_and_where_they_stand() {
    for (html, wanted) in [
        ("<a class=x href=#>kiln</a>", Some("link")),
        ("<a class=x>kiln</a>", Some("generic")),
        ("<button class=x></button>", Some("button")),
        ("<input class=x>", Some("textbox")),
        ("<input class=x type=search>", Some("searchbox")),
        ("<input class=x type=checkbox>", Some("checkbox")),
        ("<input class=x type=range>", Some("slider")),
        ("<input class=x type=number>", Some("spinbutton")),
        ("<input class=x list=l><datalist id=l></datalist>", Some("combobox")),
        ("<input class=x type=submit>", Some("button")),
        ("<select class=x></select>", Some("combobox")),
        ("<select class=x multiple></select>", Some("listbox")),
        ("<select><option class=x>a</select>", Some("option")),
        ("<textarea class=x></textarea>", Some("textbox")),
        ("<ul class=x></ul>", Some("list")),
        ("<ul><li class=x></ul>", Some("listitem")),
        ("<nav class=x></nav>", Some("navigation")),
        ("<main class=x></main>", Some("main")),
        ("<h2 class=x>Glazes</h2>", Some("heading")),
        ("<img class=x alt=mug>", Some("img")),
        ("<img class=x alt=''>", Some("none")),
        ("<table class=x></table>", Some("table")),
        ("<table><tr><td class=x></table>", Some("cell")),
        ("<progress class=x></progress>", Some("progressbar")),
        ("<output class=x></output>", Some("status")),
        ("<dialog class=x open></dialog>", Some("dialog")),
        ("<form class=x aria-label=f></form>", Some("form")),
        ("<section class=x aria-label=s></section>", Some("region")),
        ("<section class=x></section>", Some("generic")),
        ("<div class=x role=switch></div>", Some("switch")),
        ("<div class=x role='bogus switch'></div>", Some("switch")),
        ("<div class=x></div>", Some("generic")),
    ] {
        let (doc, node) = asked(html);
        assert_eq!(role_of(&doc, node), wanted, "{html}");
    }
}

#[test]
fn names_come_from_where_the_standard_looks_for_them() {
    for (html, wanted) in [
        ("<button class=x>Raise <b>now</b></button>", "Raise now"),
        ("<button class=x aria-label=Up>Raise</button>", "Up"),
        ("<b id=l>Kiln</b><i id=m>one</i><button class=x aria-labelledby='l m' aria-label=no>no</button>", "Kiln one"),
        ("<label>Target <input class=x></label>", "Target"),
        ("<label for=t>Target</label><input class=x id=t>", "Target"),
        ("<label for=t>A</label><label for=t>B</label><input class=x id=t>", "A B"),
        ("<input class=x title=Cone>", "Cone"),
        ("<input class=x placeholder=Cone>", "Cone"),
        ("<input class=x type=submit value=Fire>", "Fire"),
        ("<img class=x alt=Mug>", "Mug"),
        ("<button class=x><img alt=Mug></button>", "Mug"),
        ("<button class=x><span hidden>no</span>yes</button>", "yes"),
        ("<button class=x><span aria-hidden=true>×</span>Close</button>", "Close"),
        ("<fieldset class=x><legend>Glaze</legend></fieldset>", "Glaze"),
        ("<table class=x><caption>Firings</caption></table>", "Firings"),
        ("<a class=x href=#>  two\n lines </a>", "two lines"),
        ("<div class=x>text</div>", ""),
        ("<p class=x>text</p>", ""),
        ("<div class=x role=button>Press</div>", "Press"),
    ] {
        let (doc, node) = asked(html);
        assert_eq!(accessible_name(&doc, node), wanted, "{html}");
    }
}

#[test]
fn what_is_hidden_and_what_can_be_reached() {
    for (html, hidden, reached) in [
        ("<input class=x>", false, true),
        ("<input class=x disabled>", false, false),
        ("<input class=x type=hidden>", false, false),
        ("<div hidden><input class=x></div>", true, false),
        ("<div style='display:none'><input class=x></div>", true, false),
        ("<div style='display: NONE'><input class=x></div>", true, false),
        ("<dialog><input class=x></dialog>", true, false),
        ("<dialog open><input class=x></dialog>", false, true),
        ("<details><summary class=x>s</summary><input></details>", false, true),
        ("<details><summary>s</summary><input class=x></details>", true, false),
        ("<details open><summary>s</summary><input class=x></details>", false, true),
        ("<p class=x>text</p>", false, false),
        ("<p class=x tabindex=0>text</p>", false, true),
        ("<p class=x tabindex=-1>text</p>", false, true),
        ("<a class=x>text</a>", false, false),
        ("<a class=x href=#>text</a>", false, true),
        ("<fieldset disabled><input class=x></fieldset>", false, false),
        ("<div contenteditable class=x></div>", false, true),
    ] {
        let (doc, node) = asked(html);
        assert_eq!((form::is_hidden(&doc, node), form::is_focusable(&doc, node)), (hidden, reached), "{html}");
    }
}

#[test]
fn values_and_ticks() {
    for (html, value, ticked) in [
        ("<input class=x value=a>", "a", None),
        ("<input class=x type=checkbox checked>", "on", Some(role::Checkedness::Yes)),
        ("<input class=x type=checkbox>", "on", Some(role::Checkedness::No)),
        ("<textarea class=x>\nb</textarea>", "b", None),
        ("<select class=x><option value=1>one<option value=2 selected>two</select>", "2", None),
        ("<select class=x><option>one</select>", "one", None),
        ("<div class=x role=switch aria-checked=true></div>", "", Some(role::Checkedness::Yes)),
        ("<div class=x role=checkbox aria-checked=mixed></div>", "", Some(role::Checkedness::Mixed)),
        ("<button class=x aria-pressed=false></button>", "", Some(role::Checkedness::No)),
    ] {
        let (doc, node) = asked(html);
        assert_eq!((form::value(&doc, node).as_str(), role::ticked(&doc, node)), (value, ticked), "{html}");
    }
}

#[test]
fn an_outline_is_what_a_person_would_read_out() {
    let doc = parse::document(
        "<form aria-label=Kiln><h2>Bisque</h2><label>Target <input type=number value=600></label><label><input type=checkbox checked>Vent</label>\
         <div><div><button disabled>Fire</button></div></div><p>ready</p><p hidden>no</p></form>",
    );
    let outline = serialize::outline(&doc, doc.body().expect("a body"));
    for line in [
        "form \"Kiln\"",
        "  heading \"Bisque\"",
        "spinbutton \"Target\" = \"600\"",
        "checkbox \"Vent\" [ticked]",
        "  button \"Fire\" [disabled]",
        "“ready”",
    ] {
        assert!(outline.contains(line), "{line}: {outline}");
    }
    assert!(!outline.contains("no\n"), "what is hidden is not read out: {outline}");
}

#[test]
fn markup_is_the_same_however_it_was_written() {
    let markup = |html: &str| {
        let doc = parse::document(html);
        serialize::markup(&doc, doc.body().expect("a body"))
    };
    let wanted = "<div class=\"a\" id=\"b\">\n  <p>one two</p>\n  <input checked=\"\" type=\"checkbox\">\n</div>\n";
    for html in [
        "<div class=a id=b><p>one two</p><input type=checkbox checked></div>",
        "<div id=b class=a>\n  <p>one\n two</p><!-- c -->\n<input checked type=checkbox></div>\n",
    ] {
        assert_eq!(markup(html), wanted, "{html}");
    }
}
