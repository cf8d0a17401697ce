//! Where a finding is shown: one place for each, which editors, annotations and SARIF agree on.

use fidelon_core::finding::Finding;
use fidelon_core::results::{Component, FileFault};
use fidelon_source::Place;

/// The place in the component's source, else the promise's own, else the start of the component's file.
pub fn place_of(component: &Component, finding: &Finding) -> Place {
    finding.failure.place.clone().or_else(|| finding.written.clone()).unwrap_or_else(|| start_of(component))
}

/// The start of a component's file.
pub fn start_of(component: &Component) -> Place {
    let file = component.component.split('#').next().unwrap_or(&component.component);
    Place { file: file.to_owned(), line: 1, column: 1 }
}

/// Why a component could not be judged, and where.
pub fn unjudged(component: &Component) -> Option<(Place, &str)> {
    let reason = component.reason.as_ref()?;
    Some((reason.place.clone().unwrap_or_else(|| start_of(component)), &reason.message))
}

/// A fault of a file in one line.
pub fn fault_line(fault: &FileFault) -> String {
    match &fault.fault.help {
        Some(help) => format!("{} ({help})", fault.fault.message),
        None => fault.fault.message.clone(),
    }
}
