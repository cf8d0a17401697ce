//! The connection: what is asked, and what is told unasked.

use std::collections::{BTreeMap, BTreeSet, HashMap};
use std::path::{Path, PathBuf};

use fidelon_core::finding::Finding;
use fidelon_core::results::Results;
use fidelon_run::survey::contract_beside;
use lsp_server::{Connection, ErrorCode, Message, Notification, Request, RequestId, Response};
use lsp_types::notification::{
    DidChangeTextDocument, DidChangeWatchedFiles, DidCloseTextDocument, DidOpenTextDocument, DidSaveTextDocument,
};
use lsp_types::notification::{Notification as _, PublishDiagnostics, ShowMessage};
use lsp_types::request::{ApplyWorkspaceEdit, CodeActionRequest, CodeLensRefresh, CodeLensRequest, Completion, ExecuteCommand};
use lsp_types::request::{GotoDefinition, HoverRequest, References, Request as _, ShowDocument};
use lsp_types::{
    ApplyWorkspaceEditParams, CodeActionKind, CodeActionOptions, CodeActionOrCommand, CodeActionParams, CodeActionProviderCapability,
    CodeLensOptions, CodeLensParams, CompletionOptions, CompletionParams, CompletionResponse, DidChangeTextDocumentParams,
    DidCloseTextDocumentParams, DidOpenTextDocumentParams, ExecuteCommandOptions, ExecuteCommandParams, GotoDefinitionParams,
    GotoDefinitionResponse, HoverParams, HoverProviderCapability, InitializeParams, InitializeResult, MessageType, OneOf,
    PublishDiagnosticsParams, ReferenceParams, ServerCapabilities, ServerInfo, ShowDocumentParams, ShowMessageParams,
    TextDocumentPositionParams, TextDocumentSyncCapability, TextDocumentSyncKind,
};
use serde::Serialize;
use serde::de::DeserializeOwned;

use crate::looking::{Looking, MakeRequest, News, Order};
use crate::state::{Document, State, path_of};
use crate::text::{Columns, Text};
use crate::{actions, completions, diagnostics, hovers, lenses, links};

/// Commands that the server carries out (`workspace/executeCommand`).
pub(crate) mod commands {
    /// Judges what is open anew; the project's folder.
    pub(crate) const AGAIN: &str = "fidelon.again";
    /// Shows a file; the project's folder and the file.
    pub(crate) const OPEN: &str = "fidelon.open";
    /// Drafts a contract; the project's folder and the component.
    pub(crate) const DRAFT: &str = "fidelon.draft";
    pub(crate) const ALL: [&str; 3] = [AGAIN, OPEN, DRAFT];
}

/// Why the server ended otherwise than it was told to.
#[derive(Debug, thiserror::Error)]
pub enum EditorError {
    /// What came was no message of the protocol.
    #[error("what came is no message of the Language Server Protocol: {0}")]
    Protocol(String),
}

/// Serves one client over standard input and output until it says that it is done, or is gone. `request` tells how components of a project
/// are judged.
///
/// # Errors
/// [`EditorError`] when what comes cannot be understood at all.
pub fn serve(request: MakeRequest) -> Result<(), EditorError> {
    let (connection, threads) = Connection::stdio();
    let protocol = |e: &dyn std::fmt::Display| EditorError::Protocol(e.to_string());
    let (id, params) = match connection.initialize_start() {
        Ok(begun) => begun,
        // A client that goes away before it has said anything.
        Err(error) if error.channel_is_disconnected() => return ended(threads),
        Err(error) => return Err(protocol(&error)),
    };
    let params: InitializeParams = serde_json::from_value(params).map_err(|e| protocol(&e))?;
    let encodings = params.capabilities.general.as_ref().and_then(|g| g.position_encodings.clone()).unwrap_or_default();
    let columns = Columns::preferred(&encodings);
    let told = serde_json::to_value(capabilities(columns)).map_err(|e| protocol(&e))?;
    if let Err(error) = connection.initialize_finish(id, told) {
        return if error.channel_is_disconnected() { ended(threads) } else { Err(protocol(&error)) };
    }
    let (news, heard) = crossbeam_channel::unbounded();
    let looking = Looking::start(request, move |one| news.send(one).is_ok());
    let client = Client::of(&params);
    let state = State { columns, folders: folders(&params), ..State::default() };
    let mut server =
        Server { connection: &connection, looking, state, client, published: BTreeMap::new(), asked: 0, drafted: HashMap::new() };
    loop {
        crossbeam_channel::select! {
            recv(connection.receiver) -> message => match message {
                Ok(Message::Request(request)) => {
                    if connection.handle_shutdown(&request).unwrap_or(true) {
                        break;
                    }
                    server.asked(request);
                }
                Ok(Message::Notification(notification)) => server.told(notification),
                Ok(Message::Response(response)) => server.answered(response),
                Err(_) => break,
            },
            recv(heard) -> one => match one {
                Ok(one) => server.heard(one),
                Err(_) => break,
            },
        }
    }
    drop(server);
    drop(connection);
    ended(threads)
}

fn ended(threads: lsp_server::IoThreads) -> Result<(), EditorError> {
    threads.join().map_err(|e| EditorError::Protocol(e.to_string()))
}

fn capabilities(columns: Columns) -> InitializeResult {
    let capabilities = ServerCapabilities {
        position_encoding: Some(columns.kind()),
        text_document_sync: Some(TextDocumentSyncCapability::Kind(TextDocumentSyncKind::INCREMENTAL)),
        hover_provider: Some(HoverProviderCapability::Simple(true)),
        completion_provider: Some(CompletionOptions {
            trigger_characters: Some([" ", "{", ",", ":"].map(str::to_owned).into()),
            ..CompletionOptions::default()
        }),
        definition_provider: Some(OneOf::Left(true)),
        references_provider: Some(OneOf::Left(true)),
        code_lens_provider: Some(CodeLensOptions { resolve_provider: Some(false) }),
        code_action_provider: Some(CodeActionProviderCapability::Options(CodeActionOptions {
            code_action_kinds: Some(vec![CodeActionKind::QUICKFIX]),
            ..CodeActionOptions::default()
        })),
        execute_command_provider: Some(ExecuteCommandOptions {
            commands: commands::ALL.map(str::to_owned).into(),
            ..ExecuteCommandOptions::default()
        }),
        ..ServerCapabilities::default()
    };
    let server_info = Some(ServerInfo { name: "fidelon".into(), version: Some(env!("CARGO_PKG_VERSION").into()) });
    InitializeResult { capabilities, server_info }
}

/// The folders of the workspace, with links followed.
fn folders(params: &InitializeParams) -> Vec<PathBuf> {
    let named = params.workspace_folders.iter().flatten().map(|folder| &folder.uri);
    #[allow(deprecated, reason = "clients that know of no workspace folders name one so")]
    let root = params.root_uri.iter();
    named.chain(root).filter_map(path_of).collect()
}

/// What a client can do.
struct Client {
    refreshes_lenses: bool,
    shows_documents: bool,
    creates_files: bool,
}

impl Client {
    fn of(params: &InitializeParams) -> Self {
        let workspace = params.capabilities.workspace.as_ref();
        let window = params.capabilities.window.as_ref();
        let edits = workspace.and_then(|w| w.workspace_edit.as_ref());
        let operations = edits.and_then(|e| e.resource_operations.as_ref());
        Self {
            refreshes_lenses: workspace.and_then(|w| w.code_lens.as_ref()?.refresh_support).unwrap_or(false),
            shows_documents: window.and_then(|w| w.show_document.as_ref()).is_some_and(|s| s.support),
            creates_files: operations.is_some_and(|all| all.contains(&lsp_types::ResourceOperationKind::Create)),
        }
    }
}

struct Server<'a> {
    connection: &'a Connection,
    looking: Looking,
    state: State,
    client: Client,
    /// Which files have diagnostics, by the project's folder.
    published: BTreeMap<PathBuf, BTreeSet<PathBuf>>,
    /// How many requests were sent.
    asked: i32,
    /// Files that are shown once the client has made them, by the request that asked for it.
    drafted: HashMap<RequestId, PathBuf>,
}

impl Server<'_> {
    fn send(&self, message: impl Into<Message>) {
        // A client that is gone is seen by the end of what it sends.
        let _ = self.connection.sender.send(message.into());
    }

    fn notify<N: lsp_types::notification::Notification>(&self, params: N::Params) {
        self.send(Notification::new(N::METHOD.into(), params));
    }

    fn request<R: lsp_types::request::Request>(&mut self, params: R::Params) -> RequestId {
        self.asked += 1;
        let id = RequestId::from(self.asked);
        self.send(Request::new(id.clone(), R::METHOD.into(), params));
        id
    }

    /// Looks at what is open in a project.
    fn look(&self, root: PathBuf, anew: bool) {
        let paths = self.state.open_in(&root);
        if !paths.is_empty() {
            self.looking.ask(Order::Look { root, paths, unsaved: self.state.unsaved(), anew, number: 0 });
        }
    }

    fn look_at_all(&self) {
        let roots: BTreeSet<PathBuf> = self.state.documents.values().map(|d| self.state.root_of(&d.path)).collect();
        roots.into_iter().for_each(|root| self.look(root, false));
    }

    fn told(&mut self, notification: Notification) {
        match notification.method.as_str() {
            DidOpenTextDocument::METHOD => {
                let Ok(DidOpenTextDocumentParams { text_document: opened }) = serde_json::from_value(notification.params) else { return };
                let Some(path) = path_of(&opened.uri) else { return };
                let text = Text::new(&opened.text, self.state.columns);
                let root = self.state.root_of(&path);
                let document = Document { uri: opened.uri.clone(), path, text, version: opened.version };
                self.state.documents.insert(opened.uri.as_str().to_owned(), document);
                self.look(root, false);
            }
            DidChangeTextDocument::METHOD => {
                let Ok(DidChangeTextDocumentParams { text_document, content_changes }) = serde_json::from_value(notification.params) else {
                    return;
                };
                let Some(document) = self.state.documents.get_mut(text_document.uri.as_str()) else { return };
                document.text = document.text.changed(content_changes);
                document.version = text_document.version;
                let path = document.path.clone();
                self.look(self.state.root_of(&path), false);
            }
            DidCloseTextDocument::METHOD => {
                let Ok(DidCloseTextDocumentParams { text_document }) = serde_json::from_value(notification.params) else { return };
                let Some(closed) = self.state.documents.remove(text_document.uri.as_str()) else { return };
                let root = self.state.root_of(&closed.path);
                if self.state.open_in(&root).is_empty() {
                    self.forget(&root);
                } else {
                    self.look(root, false);
                }
            }
            DidSaveTextDocument::METHOD | DidChangeWatchedFiles::METHOD => self.look_at_all(),
            _ => {}
        }
    }

    /// Nothing of a project is open any more.
    fn forget(&mut self, root: &Path) {
        self.state.known.remove(root);
        for path in self.published.remove(root).unwrap_or_default() {
            self.publish(&path, Vec::new());
        }
    }

    fn publish(&self, path: &Path, shown: Vec<lsp_types::Diagnostic>) {
        let Some(uri) = self.state.uri_of(path) else { return };
        let version = self.state.documents.values().find(|d| d.path == path).map(|d| d.version);
        self.notify::<PublishDiagnostics>(PublishDiagnosticsParams { uri, diagnostics: shown, version });
    }

    fn heard(&mut self, news: News) {
        match news {
            News::Surveyed { root, survey } => self.state.known.entry(root).or_default().survey = *survey,
            News::Judged { root, results, is_glance } => self.judged(&root, *results, is_glance),
            News::Shown { root, nodes } => {
                let known = self.state.known.entry(root).or_default();
                known.nodes.extend(nodes);
            }
            News::Drafted { root, component, text } => self.drafted(&root, &component, text),
            News::Failed { message } => self.say(MessageType::ERROR, message),
        }
    }

    fn say(&self, typ: MessageType, message: String) {
        self.notify::<ShowMessage>(ShowMessageParams { typ, message });
    }

    fn judged(&mut self, root: &Path, mut results: Results, is_glance: bool) {
        // Everything was closed in the meantime.
        let Some(known) = self.state.known.get_mut(root) else { return };
        if is_glance {
            keep_unseen(&known.results, &mut results);
        }
        known.results = results;
        let shown = diagnostics::of(&self.state, root, &self.state.known[root].results);
        let before = self.published.remove(root).unwrap_or_default();
        for path in before.iter().filter(|path| !shown.contains_key(*path)) {
            self.publish(path, Vec::new());
        }
        self.published.insert(root.to_path_buf(), shown.keys().cloned().collect());
        for (path, shown) in shown {
            self.publish(&path, shown);
        }
        // What is not found and clean is told so, too: an editor shows that it was looked at.
        let clean = self.state.open_in(root).into_iter().filter(|path| !self.published[root].contains(path) && !before.contains(path));
        clean.collect::<Vec<_>>().iter().for_each(|path| self.publish(path, Vec::new()));
        if self.client.refreshes_lenses && !is_glance {
            self.request::<CodeLensRefresh>(());
        }
    }

    fn drafted(&mut self, root: &Path, component: &str, text: Result<String, String>) {
        let text = match text {
            Ok(text) => text,
            Err(why) => return self.say(MessageType::ERROR, format!("no contract was drafted: {why}")),
        };
        let path = root.join(contract_beside(component));
        if path.exists() {
            return self.say(MessageType::ERROR, format!("`{}` is there already: nothing was drafted over it", path.display()));
        }
        if !self.client.creates_files {
            let message = format!("this editor makes no files for others: run `fidelon draft {component}`");
            return self.say(MessageType::INFO, message);
        }
        let Some(edit) = actions::new_file(&path, &text) else { return };
        let params = ApplyWorkspaceEditParams { label: Some(format!("a contract of {component}")), edit };
        let id = self.request::<ApplyWorkspaceEdit>(params);
        self.drafted.insert(id, path);
    }

    fn answered(&mut self, response: Response) {
        let Some(path) = self.drafted.remove(&response.id) else { return };
        if response.response_result.is_ok_and(|r| r["applied"] == true) {
            self.show(&path);
        }
    }

    fn show(&mut self, path: &Path) {
        let Some(uri) = self.state.uri_of(path) else { return };
        if self.client.shows_documents {
            let params = ShowDocumentParams { uri, external: None, take_focus: Some(true), selection: None };
            self.request::<ShowDocument>(params);
        } else {
            self.say(MessageType::INFO, path.display().to_string());
        }
    }

    fn asked(&mut self, request: Request) {
        let Request { id, method, params } = request;
        match method.as_str() {
            HoverRequest::METHOD => self.answer(id, params, |server, params: HoverParams| {
                let (document, at) = server.at(&params.text_document_position_params)?;
                hovers::at(&server.state, document, at)
            }),
            Completion::METHOD => self.answer(id, params, |server, params: CompletionParams| {
                let (document, at) = server.at(&params.text_document_position)?;
                Some(CompletionResponse::Array(completions::at(&server.state, document, at)))
            }),
            GotoDefinition::METHOD => self.answer(id, params, |server, params: GotoDefinitionParams| {
                let (document, at) = server.at(&params.text_document_position_params)?;
                Some(GotoDefinitionResponse::Array(links::declared(&server.state, document, at)))
            }),
            References::METHOD => self.answer(id, params, |server, params: ReferenceParams| {
                let (document, at) = server.at(&params.text_document_position)?;
                Some(links::spoken_of(&server.state, document, at))
            }),
            CodeLensRequest::METHOD => self.answer(id, params, |server, params: CodeLensParams| {
                Some(lenses::of(&server.state, server.state.document(&params.text_document.uri)?))
            }),
            CodeActionRequest::METHOD => self.answer(id, params, |server, params: CodeActionParams| {
                let document = server.state.document(&params.text_document.uri)?;
                let actions = actions::of(&server.state, document, &params.context.diagnostics);
                Some(actions.into_iter().map(CodeActionOrCommand::CodeAction).collect::<Vec<_>>())
            }),
            ExecuteCommand::METHOD => self.answer(id, params, |server, params: ExecuteCommandParams| {
                server.carry_out(&params);
                None::<()>
            }),
            _ => self.send(Response::new_err(id, ErrorCode::MethodNotFound as i32, format!("`{method}` is not served"))),
        }
    }

    fn at(&self, place: &TextDocumentPositionParams) -> Option<(&Document, lsp_types::Position)> {
        Some((self.state.document(&place.text_document.uri)?, place.position))
    }

    /// Answers a request, or says what is wrong with its parameters.
    fn answer<P: DeserializeOwned, R: Serialize>(
        &mut self,
        id: RequestId,
        params: serde_json::Value,
        answer: impl FnOnce(&mut Self, P) -> Option<R>,
    ) {
        let response = match serde_json::from_value(params) {
            Ok(params) => Response::new_ok(id, answer(self, params)),
            Err(error) => Response::new_err(id, ErrorCode::InvalidParams as i32, error.to_string()),
        };
        self.send(response);
    }

    fn carry_out(&mut self, params: &ExecuteCommandParams) {
        let argument = |at: usize| params.arguments.get(at).and_then(serde_json::Value::as_str);
        let Some(root) = argument(0).map(PathBuf::from) else { return };
        // Only what is known is touched, whatever a client names.
        if !self.state.known.contains_key(&root) {
            return;
        }
        match (params.command.as_str(), argument(1)) {
            (commands::AGAIN, _) => self.look(root, true),
            (commands::OPEN, Some(file)) => self.show(&root.join(file)),
            (commands::DRAFT, Some(component)) => self.looking.ask(Order::Draft { root, component: component.to_owned() }),
            _ => {}
        }
    }
}

/// A glance plays little: what was found before and is about the same stands until the whole look says otherwise.
fn keep_unseen(before: &Results, glance: &mut Results) {
    let same = |a: &Finding, b: &Finding| a.rule == b.rule && a.about == b.about;
    for component in &mut glance.components {
        let Some(known) = before.components.iter().find(|c| c.component == component.component) else { continue };
        if component.reason.is_some() {
            continue;
        }
        let unseen: Vec<Finding> =
            known.findings.iter().filter(|old| !component.findings.iter().any(|new| same(old, new))).cloned().collect();
        if !unseen.is_empty() {
            component.verdict = fidelon_core::Verdict::Broken;
            component.findings.extend(unseen);
        }
    }
}
