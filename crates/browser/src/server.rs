//! What the page is served: itself, modules, and work. Everything lies below a path that nobody can guess.

use std::sync::mpsc::Sender;
use std::sync::{Arc, Mutex};
use std::time::Duration;

use axum::Router;
use axum::extract::{DefaultBodyLimit, Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use fantoccini::Client;
use fidelon_core::stage::Script;
use fidelon_loader::{Form, served};
use serde_json::Value as Json;
use tokio::net::TcpListener;
use tokio::sync::Notify;

use crate::driver;
use crate::input::Gesture;
use crate::modules::Modules;
use crate::snapshot::{self, Asked};

/// How long the page's question for work is held.
const HOLD: Duration = Duration::from_secs(20);
/// What the page may fetch: its own modules, and nothing of anybody else's. Component code is a stranger's; pictures, frames, sockets and
/// workers would be its way out.
const POLICY: &str = "default-src 'none'; script-src 'self' 'unsafe-inline' 'unsafe-eval'; connect-src 'self'; style-src 'unsafe-inline'; \
    img-src data: blob:; media-src data: blob:; font-src data:; frame-src 'none'; worker-src 'none'; form-action 'none'; base-uri 'none'";

/// The most that a page may say at once.
const MOST_SAID: usize = 256 << 20;

/// The work that lies ready, and the page that it is for.
#[derive(Debug, Default)]
struct Desk {
    page: u64,
    work: Option<Vec<Script>>,
}

/// What handlers share.
#[derive(Debug)]
pub(crate) struct Shared {
    base: String,
    script: String,
    modules: Modules,
    desk: Mutex<Desk>,
    laid: Notify,
    said: Mutex<Sender<(u64, Vec<Json>)>>,
    /// Under real input: the session whose hand the page borrows.
    hand: Mutex<Option<Client>>,
    /// The session, to give its window another size.
    window: Mutex<Option<Client>>,
    /// The server whose page is on the stage: its requests really go there.
    origin: Mutex<Option<String>>,
}

impl Shared {
    pub(crate) fn new(base: String, script: String, modules: Modules, said: Sender<(u64, Vec<Json>)>) -> Self {
        Self {
            base,
            script,
            modules,
            desk: Mutex::default(),
            laid: Notify::new(),
            said: Mutex::new(said),
            hand: Mutex::new(None),
            window: Mutex::new(None),
            origin: Mutex::new(None),
        }
    }

    /// Steps of a person are made by this session's input from now on.
    /// Lets the page give the window of a session another size.
    pub(crate) fn lend_window(&self, window: Client) {
        if let Ok(mut held) = self.window.lock() {
            *held = Some(window);
        }
    }

    pub(crate) fn lend(&self, hand: Client) {
        if let Ok(mut held) = self.hand.lock() {
            *held = Some(hand);
        }
    }

    /// From now on requests of the page go to this server, and to no other.
    pub(crate) fn send_to(&self, origin: Option<String>) {
        if let Ok(mut held) = self.origin.lock() {
            *held = origin;
        }
    }

    fn origin(&self) -> Option<String> {
        self.origin.lock().ok().and_then(|o| o.clone())
    }

    /// Another page takes the place of the one before.
    pub(crate) fn turn_to(&self, page: u64) {
        self.lay(Desk { page, work: None });
    }

    /// Lays work ready for a page.
    pub(crate) fn hand(&self, page: u64, work: Vec<Script>) {
        self.lay(Desk { page, work: Some(work) });
    }

    fn lay(&self, desk: Desk) {
        if let Ok(mut at) = self.desk.lock() {
            *at = desk;
        }
        self.laid.notify_waiters();
    }

    /// The work for a page; none when another page has taken its place.
    async fn take(&self, page: u64) -> Option<Vec<Script>> {
        let end = tokio::time::Instant::now() + HOLD;
        loop {
            let laid = self.laid.notified();
            tokio::pin!(laid);
            // From here on no word is missed.
            laid.as_mut().enable();
            {
                let mut desk = self.desk.lock().ok()?;
                if desk.page != page {
                    return None;
                }
                if let Some(work) = desk.work.take() {
                    return Some(work);
                }
            }
            if tokio::time::timeout_at(end, laid).await.is_err() {
                return Some(Vec::new());
            }
        }
    }
}

/// Serves until the runtime ends.
pub(crate) async fn serve(listener: TcpListener, shared: Arc<Shared>) {
    let routes = Router::new()
        .route("/page/{page}", get(page))
        .route("/s/{*name}", get(ours))
        .route("/m/{*name}", get(facade))
        .route("/c/{*name}", get(register))
        .route("/resolve", post(resolve))
        .route("/find", post(find))
        .route("/turn/{page}", post(turn))
        .route("/input", post(input))
        .route("/resize", post(resize))
        .route("/send", post(send))
        .layer(DefaultBodyLimit::max(MOST_SAID));
    let app = Router::new().nest(&shared.base, routes).with_state(shared);
    let _ = axum::serve(listener, app).await;
}

type Served = State<Arc<Shared>>;

async fn page(State(shared): Served, Path(page): Path<u64>) -> Response {
    let real = shared.hand.lock().is_ok_and(|h| h.is_some());
    let html = format!(
        "<!DOCTYPE html><html><head><meta charset=\"utf-8\"><script data-base=\"{}\" data-page=\"{page}\" data-real=\"{real}\" data-served=\"{}\">{}</script></head><body></body></html>",
        shared.base,
        shared.origin().is_some(),
        shared.script
    );
    let headers = [
        (header::CONTENT_TYPE, "text/html; charset=utf-8"),
        (header::CACHE_CONTROL, "no-store"),
        (header::CONTENT_SECURITY_POLICY, POLICY),
    ];
    (headers, html).into_response()
}

/// A module. What it is stays the same as long as the server runs, but for ours, which change with the scene.
fn script(text: Result<String, String>, lasts: bool) -> Response {
    let keep = if lasts { "max-age=86400, immutable" } else { "no-store" };
    match text {
        Ok(text) => ([(header::CONTENT_TYPE, "text/javascript; charset=utf-8"), (header::CACHE_CONTROL, keep)], text).into_response(),
        Err(message) => (StatusCode::NOT_FOUND, message).into_response(),
    }
}

async fn ours(State(shared): Served, Path(name): Path<String>) -> Response {
    script(shared.modules.text(Form::Facade, name).await, false)
}

async fn facade(State(shared): Served, Path(name): Path<String>) -> Response {
    script(shared.modules.text(Form::Facade, name).await, true)
}

async fn register(State(shared): Served, Path(name): Path<String>) -> Response {
    script(shared.modules.text(Form::Register, name).await, true)
}

async fn resolve(State(shared): Served, body: String) -> Response {
    let Ok((specifier, from)) = serde_json::from_str::<(String, String)>(&body) else { return StatusCode::BAD_REQUEST.into_response() };
    match shared.modules.resolve(specifier, from).await {
        Ok(address) => address.into_response(),
        // An address that is not served: the import fails as it should.
        Err(message) => format!("{}/nowhere/{}", shared.base, message.replace(['/', '?', '#'], " ")).into_response(),
    }
}

async fn find(body: String) -> String {
    serde_json::from_str::<Asked>(&body).map_or_else(|e| e.to_string(), |asked| snapshot::find(&asked))
}

/// Gives the window another size.
async fn resize(State(shared): Served, body: String) -> Response {
    let window = shared.window.lock().ok().and_then(|w| w.clone());
    let done = match (window, serde_json::from_str::<(u32, u32)>(&body)) {
        (Some(window), Ok((width, height))) => driver::size(&window, width, height).await,
        _ => Err("the window of this browser cannot be given another size".to_owned()),
    };
    axum::Json(done.map_or_else(|reason| reason, |()| "done".to_owned())).into_response()
}

async fn input(State(shared): Served, body: String) -> Response {
    let hand = shared.hand.lock().ok().and_then(|h| h.clone());
    let done = match (hand, serde_json::from_str::<Gesture>(&body)) {
        (Some(hand), Ok(gesture)) => gesture.make(&hand).await,
        _ => Err("there is no hand to make it".to_owned()),
    };
    axum::Json(done.map_or_else(|reason| reason, |()| "done".to_owned())).into_response()
}

/// A request of a page that a server rendered.
async fn send(State(shared): Served, body: String) -> Response {
    let (Some(origin), Ok(sent)) = (shared.origin(), serde_json::from_str(&body)) else { return StatusCode::BAD_REQUEST.into_response() };
    let reply = tokio::task::spawn_blocking(move || served::send(&origin, &sent)).await;
    let failed = |why: String| axum::Json(serde_json::json!({ "fail": true, "why": why })).into_response();
    match reply {
        Ok(Ok(reply)) => axum::Json(reply).into_response(),
        Ok(Err(why)) => failed(why),
        Err(error) => failed(error.to_string()),
    }
}

async fn turn(State(shared): Served, Path(page): Path<u64>, body: String) -> Response {
    // What makes no sense is told at once: nobody waits for an answer that cannot come.
    let said = serde_json::from_str::<Vec<Json>>(&body).unwrap_or_else(|e| vec![serde_json::json!({ "protocol": e.to_string() })]);
    if !said.is_empty()
        && let Ok(tell) = shared.said.lock()
    {
        let _ = tell.send((page, said));
    }
    axum::Json(shared.take(page).await).into_response()
}
