//! Results as SARIF 2.1.0 (OASIS, <https://docs.oasis-open.org/sarif/sarif/v2.1.0/>), by which code hosts show findings beside the code.

use std::collections::BTreeSet;

use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::judge::laws;
use fidelon_core::results::{Component, Results};
use fidelon_source::Place;
use serde_json::{Value as Json, json};

use crate::places::{fault_line, place_of, unjudged};
use crate::told::{cause, promise, sentence};

/// The rule that all clauses are results of: their words are each contract's own.
const CLAUSE: &str = "contract/clause";
/// The rule of accepted output.
const ACCEPTED: &str = "output/accepted";

/// The whole log: one run.
pub fn sarif(results: &Results) -> Json {
    let broken = || results.components.iter().flat_map(|c| c.findings.iter().map(move |f| (c, f)));
    let used: BTreeSet<&str> = broken().map(|(_, f)| rule_id(f)).collect();
    let rules: Vec<&str> = used.into_iter().collect();
    let found: Vec<Json> = broken().map(|(component, finding)| result(component, finding, &rules)).collect();
    let faults = results.faults.iter().map(|f| notification("error", &fault_line(f), &f.place));
    let open = results.components.iter().filter_map(unjudged).map(|(place, reason)| notification("warning", reason, &place));
    json!({
        "$schema": "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json",
        "version": "2.1.0",
        "runs": [{
            "tool": { "driver": {
                "name": "Fidelon",
                "version": results.fidelon,
                "rules": rules.iter().map(|id| rule(id)).collect::<Vec<_>>(),
            } },
            "columnKind": "unicodeCodePoints",
            "invocations": [{
                "executionSuccessful": results.faults.is_empty() && results.totals.unjudged == 0,
                "toolExecutionNotifications": faults.chain(open).collect::<Vec<_>>(),
            }],
            "results": found,
        }],
    })
}

fn rule_id(finding: &Finding) -> &str {
    match finding.kind {
        RuleKind::Clause => CLAUSE,
        RuleKind::Law => &finding.rule,
        RuleKind::Baseline => ACCEPTED,
    }
}

fn rule(id: &str) -> Json {
    let demands = match id {
        CLAUSE => "A clause of the component's contract holds in every combination that it applies to.",
        ACCEPTED => "The component renders what was accepted.",
        law => laws::LAWS.iter().find(|l| l.name == law).map_or("", |l| l.demands),
    };
    json!({ "id": id, "shortDescription": { "text": demands }, "defaultConfiguration": { "level": "error" } })
}

fn result(component: &Component, finding: &Finding, rules: &[&str]) -> Json {
    let id = rule_id(finding);
    let mut properties = json!({ "component": component.component, "promise": promise(finding), "case": finding.case, "combination": finding.combination,
        "checked": finding.checked, "broke": finding.broke });
    if let Some(cause) = cause(finding) {
        properties["cause"] = cause.into();
    }
    let mut out = json!({
        "ruleId": id,
        "ruleIndex": rules.iter().position(|r| *r == id),
        "level": "error",
        "message": { "text": format!("{}: {}", component.component, sentence(finding)) },
        "locations": [location(&place_of(component, finding))],
        // The same promise of the same component for the same cause is the same finding, wherever its lines have gone.
        "partialFingerprints": { "promise/v1": format!("{}|{}|{}", component.component, finding.rule, cause(finding).unwrap_or_default()) },
        "properties": properties,
    });
    if let Some(written) = &finding.written {
        let mut related = location(written);
        related["message"] = json!({ "text": "promised here" });
        out["relatedLocations"] = json!([related]);
    }
    out
}

fn location(place: &Place) -> Json {
    json!({ "physicalLocation": {
        "artifactLocation": { "uri": uri(&place.file) },
        "region": { "startLine": place.line.max(1), "startColumn": place.column.max(1) },
    } })
}

/// A path as a relative reference (RFC 3986, section 4.2).
fn uri(path: &str) -> String {
    let keeps = |b: u8| b.is_ascii_alphanumeric() || b"-._~/@+,=!$&'()*;".contains(&b);
    path.bytes().fold(String::new(), |mut out, b| {
        if keeps(b) {
            out.push(char::from(b));
        } else {
            out.push_str(&format!("%{b:02X}"));
        }
        out
    })
}

fn notification(level: &str, text: &str, place: &Place) -> Json {
    json!({ "level": level, "message": { "text": text }, "locations": [location(place)] })
}
