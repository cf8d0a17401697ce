//! Results as JUnit XML, as CI services read it: a suite a component, a test case a clause, law or accepted output.

use fidelon_core::Verdict;
use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::results::{Component, Results, Rule};
use quick_junit::{NonSuccessKind, Report, TestCase, TestCaseStatus, TestSuite};

use crate::places::{fault_line, place_of, unjudged};
use crate::told::{promise, sentence, when};

/// The whole file.
///
/// # Errors
/// What the writer says, in words.
pub fn junit(results: &Results) -> Result<String, String> {
    let mut report = Report::new("fidelon");
    if !results.faults.is_empty() {
        let mut suite = TestSuite::new("files");
        for fault in &results.faults {
            let mut case = TestCase::new(fault.place.to_string(), failed(NonSuccessKind::Error, "fault", &fault_line(fault), ""));
            case.set_classname("files");
            suite.add_test_case(case);
        }
        report.add_test_suite(suite);
    }
    for component in &results.components {
        report.add_test_suite(suite(component));
    }
    let text = report.to_string().map_err(|e| e.to_string())?;
    // The published schemas know the number of skipped cases of a suite, not that of all.
    let (head, rest) = text.split_once("<testsuites").unwrap_or(("", &text));
    let (attributes, rest) = rest.split_once('>').unwrap_or((rest, ""));
    let attributes: Vec<&str> = attributes.split(' ').filter(|a| !a.starts_with("skipped=")).collect();
    Ok(format!("{head}<testsuites{}>{rest}", attributes.join(" ")))
}

fn failed(kind: NonSuccessKind, of: &str, message: &str, text: &str) -> TestCaseStatus {
    let mut status = TestCaseStatus::non_success(kind);
    status.set_type(of).set_message(message);
    if !text.is_empty() {
        status.set_description(text);
    }
    status
}

fn suite(component: &Component) -> TestSuite {
    let mut suite = TestSuite::new(component.component.as_str());
    let mut add = |name: &str, status| {
        let mut case = TestCase::new(name, status);
        case.set_classname(component.component.as_str());
        suite.add_test_case(case);
    };
    if let Some((place, reason)) = unjudged(component) {
        add("it can be judged", failed(NonSuccessKind::Error, "unjudged", &format!("{place}: {reason}"), ""));
    }
    for rule in component.clauses.iter().chain(&component.laws) {
        let (name, kind) = name_of(rule);
        add(name, status(component, name, kind, rule.verdict));
    }
    if let Some(compared) = &component.baseline {
        let name = component.findings.iter().find(|f| f.kind == RuleKind::Baseline).map_or("output as accepted", |f| f.rule.as_str());
        add(name, status(component, name, RuleKind::Baseline, compared.verdict));
    }
    suite
}

fn name_of(rule: &Rule) -> (&str, RuleKind) {
    match (&rule.clause, &rule.law) {
        (Some(clause), _) => (clause, RuleKind::Clause),
        (None, law) => (law.as_deref().unwrap_or_default(), RuleKind::Law),
    }
}

fn status(component: &Component, name: &str, kind: RuleKind, verdict: Verdict) -> TestCaseStatus {
    let findings: Vec<&Finding> = component.findings.iter().filter(|f| f.rule == name && f.kind == kind).collect();
    match (findings.first(), verdict) {
        (Some(first), _) => {
            let text: Vec<String> = findings.iter().map(|f| told(component, f)).collect();
            failed(NonSuccessKind::Failure, word(kind), &sentence(first), &text.join("\n\n"))
        }
        (None, Verdict::Holds) => TestCaseStatus::success(),
        (None, Verdict::Broken | Verdict::Unjudged) => TestCaseStatus::skipped(),
    }
}

fn word(kind: RuleKind) -> &'static str {
    match kind {
        RuleKind::Clause => "clause",
        RuleKind::Law => "law",
        RuleKind::Baseline => "accepted",
    }
}

/// A finding as it stands in the body of a failure.
fn told(component: &Component, finding: &Finding) -> String {
    let failure = &finding.failure;
    let mut out = vec![promise(finding), format!("breaks {}", when(finding)), failure.message.clone()];
    let labelled = |label: &str, text: &Option<String>| text.as_ref().map(|t| format!("{label} {t}"));
    if failure.diff.is_empty() {
        out.extend(labelled("expected", &failure.expected));
        out.extend(labelled("actual", &failure.actual));
    } else {
        out.extend(failure.diff.iter().cloned());
    }
    out.push(format!("shown by {} with {}", finding.case, finding.combination));
    if finding.kind == RuleKind::Clause {
        out.push(format!("again: fidelon replay {}", finding.case));
    }
    out.push(format!("at {}", place_of(component, finding)));
    out.join("\n")
}
