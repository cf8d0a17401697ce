//! What can be done about a finding: write what was meant, or exempt a law with a reason.

use std::path::Path;

use fidelon_run::survey::contract_beside;
use lsp_types::{
    CodeAction, CodeActionKind, CreateFile, CreateFileOptions, Diagnostic, DocumentChangeOperation, DocumentChanges, OneOf,
    OptionalVersionedTextDocumentIdentifier, Position, Range, ResourceOp, TextDocumentEdit, TextEdit, Uri, WorkspaceEdit,
};

use crate::diagnostics::{About, SOURCE};
use crate::state::{Document, State, uri_of};
use crate::text::Text;

/// The actions for diagnostics of a document.
pub(crate) fn of(state: &State, document: &Document, diagnostics: &[Diagnostic]) -> Vec<CodeAction> {
    let own = diagnostics.iter().filter(|d| d.source.as_deref() == Some(SOURCE));
    let told = own.filter_map(|d| Some((d, serde_json::from_value::<About>(d.data.clone()?).ok()?)));
    told.flat_map(|(diagnostic, about)| {
        [corrected(document, diagnostic, &about), exempted(state, document, diagnostic, &about)].into_iter().flatten()
    })
    .collect()
}

fn action(title: String, diagnostic: &Diagnostic, edit: WorkspaceEdit) -> CodeAction {
    CodeAction {
        title,
        kind: Some(CodeActionKind::QUICKFIX),
        diagnostics: Some(vec![diagnostic.clone()]),
        edit: Some(edit),
        ..CodeAction::default()
    }
}

/// What was meant in place of what was written.
fn corrected(document: &Document, diagnostic: &Diagnostic, about: &About) -> Option<CodeAction> {
    let meant = about.instead.as_ref()?;
    let edit = text_edit(document.uri.clone(), Some(document.version), diagnostic.range, meant.clone());
    Some(CodeAction { is_preferred: Some(true), ..action(format!("write `{meant}`"), diagnostic, edit) })
}

/// The law does not hold here, in the contract of the component, which is made where there is none.
fn exempted(state: &State, document: &Document, diagnostic: &Diagnostic, about: &About) -> Option<CodeAction> {
    let law = about.law.as_deref()?;
    let (root, known, _) = state.around(document)?;
    let what = match &about.about {
        Some(name) => format!("except: [{name}]"),
        None => "off: true".into(),
    };
    let entry = format!("  {law}: {{ {what}, because: … }}\n");
    let title = match &about.about {
        Some(name) => format!("exempt `{name}` of {law} in the contract"),
        None => format!("exempt the component of {law} in the contract"),
    };
    if let Some(contract) = known.contract_of(&about.component) {
        let path = root.join(contract);
        let text = state.text_of(&path);
        let version = state.documents.values().find(|d| d.path == path).map(|d| d.version);
        let (at, put) = exemption(&text, law, &entry)?;
        let edit = text_edit(state.uri_of(&path)?, version, Range::new(at, at), put);
        return Some(action(title, diagnostic, edit));
    }
    let path = root.join(contract_beside(&about.component));
    // Somebody's file that is there already is not written into.
    if path.exists() {
        return None;
    }
    let component = Path::new(&about.component).file_name()?.to_string_lossy();
    Some(action(title, diagnostic, new_file(&path, &format!("component: ./{component}\nlaws:\n{entry}"))?))
}

/// Where an exemption goes, and what is put there; none where the law has one already.
fn exemption(text: &Text, law: &str, entry: &str) -> Option<(Position, String)> {
    let head = (0..text.lines()).find(|line| text.line(*line).trim_end() == "laws:");
    if let Some(head) = head {
        let own = |line: &str| line.starts_with(' ') || line.trim().is_empty();
        let block = || (head + 1..text.lines()).take_while(|line| own(text.line(*line)));
        let named = block().any(|line| text.line(line).trim_start().strip_prefix(law).is_some_and(|rest| rest.starts_with(':')));
        return (!named).then(|| (Position::new(head + 1, 0), entry.to_owned()));
    }
    // A map in braces is somebody's own form: it is not taken apart.
    if (0..text.lines()).any(|line| text.line(line).starts_with("laws:")) {
        return None;
    }
    let end = text.position(text.all().len());
    let gap = if text.all().is_empty() || text.all().ends_with('\n') { "" } else { "\n" };
    Some((end, format!("{gap}\nlaws:\n{entry}")))
}

/// One text in place of another.
fn text_edit(uri: Uri, version: Option<i32>, range: Range, new_text: String) -> WorkspaceEdit {
    let text_document = OptionalVersionedTextDocumentIdentifier { uri, version };
    let edit = TextDocumentEdit { text_document, edits: vec![OneOf::Left(TextEdit { range, new_text })] };
    WorkspaceEdit { document_changes: Some(DocumentChanges::Edits(vec![edit])), ..WorkspaceEdit::default() }
}

/// A file that is not there yet, with its text.
pub(crate) fn new_file(path: &Path, text: &str) -> Option<WorkspaceEdit> {
    let uri = uri_of(path)?;
    let options = Some(CreateFileOptions { overwrite: Some(false), ignore_if_exists: Some(false) });
    let create = CreateFile { uri: uri.clone(), options, annotation_id: None };
    let put = TextDocumentEdit {
        text_document: OptionalVersionedTextDocumentIdentifier { uri, version: None },
        edits: vec![OneOf::Left(TextEdit { range: Range::default(), new_text: text.into() })],
    };
    let changes = vec![DocumentChangeOperation::Op(ResourceOp::Create(create)), DocumentChangeOperation::Edit(put)];
    Some(WorkspaceEdit { document_changes: Some(DocumentChanges::Operations(changes)), ..WorkspaceEdit::default() })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::text::Columns;

    #[test]
    fn an_exemption_goes_where_laws_are_exempted_once() {
        let put = |text: &str| exemption(&Text::new(text, Columns::Units), "prop/live", "  prop/live: x\n");
        assert_eq!(put("component: a\nlaws:\n  prop/late: y\n"), Some((Position::new(2, 0), "  prop/live: x\n".into())));
        assert_eq!(put("component: a\nlaws:\n\n  prop/live: y\nclauses: []\n"), None);
        assert_eq!(put("component: a"), Some((Position::new(0, 12), "\n\nlaws:\n  prop/live: x\n".into())));
        assert_eq!(put("component: a\nlaws: { prop/late: y }\n"), None);
    }
}
