//! Components to be tried by hand: a local page in the user's own browser.
//!
//! Two servers on loopback: the desk, which knows the project and may write contracts, and the bench, where components run. The bench has
//! an origin of its own, so that component code, a stranger's, reaches nothing of the desk; the two pages talk by messages. Both lie below
//! paths that nobody can guess, answer to their own names alone, and fetch nothing from elsewhere.
//!
//! | module | subject |
//! |---|---|
//! | `desk` | the page with the list, the controls and the log |
//! | `bench` | the page that a component is mounted on |
//! | `known` | what is known of the project, looked at anew on every save |

mod bench;
mod desk;
mod known;

use std::net::{Ipv4Addr, SocketAddr};
use std::sync::Arc;

use axum::extract::{Request as Asked, State};
use axum::http::{StatusCode, header};
use axum::middleware::Next;
use axum::response::{IntoResponse, Response};
use fidelon_run::Request;
use tokio::net::TcpListener;

use crate::bench::Bench;
use crate::known::Known;

/// Why nothing can be served.
#[derive(Debug, thiserror::Error)]
pub enum ServeError {
    /// The port is somebody else's, or not ours to take.
    #[error("port {0} cannot be taken ({1}): another program may have it; --port 0 takes a free one")]
    Port(u16, std::io::Error),
    /// The system does not give what is needed.
    #[error("{0}")]
    System(String),
    /// A path that cannot be used.
    #[error(transparent)]
    Survey(#[from] fidelon_run::survey::SurveyError),
}

/// Serves until the process is ended. `ready` is told the address to open.
///
/// # Errors
/// [`ServeError`] says why it does not start.
pub fn serve(request: Request, port: u16, ready: &dyn Fn(&str)) -> Result<(), ServeError> {
    let system = |e: std::io::Error| ServeError::System(e.to_string());
    // A path that cannot be used is told before anything is served.
    let known = Arc::new(Known::new(request.clone())?);
    let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(2).enable_all().build().map_err(system)?;
    let desk = runtime.block_on(listen(port)).map_err(|e| ServeError::Port(port, e))?;
    let bench = runtime.block_on(listen(0)).map_err(|e| ServeError::Port(0, e))?;
    let origins = Origins { desk: origin(&desk).map_err(system)?, bench: origin(&bench).map_err(system)? };
    let token = fidelon_browser::secret();
    let benches = Arc::new(Bench::new(&request, origins.clone()));
    runtime.spawn(run(bench, bench::routes(benches.clone())));
    known::follow(&known).map_err(ServeError::System)?;
    let address = format!("{}/{token}/", origins.desk);
    ready(&address);
    runtime.block_on(run(desk, desk::routes(&token, known, benches, &origins)));
    Ok(())
}

/// Where the two pages come from.
#[derive(Debug, Clone)]
pub(crate) struct Origins {
    pub(crate) desk: String,
    pub(crate) bench: String,
}

async fn listen(port: u16) -> std::io::Result<TcpListener> {
    TcpListener::bind(SocketAddr::from((Ipv4Addr::LOCALHOST, port))).await
}

fn origin(listener: &TcpListener) -> std::io::Result<String> {
    Ok(format!("http://{}", listener.local_addr()?))
}

async fn run(listener: TcpListener, routes: axum::Router) {
    let Ok(own) = listener.local_addr() else { return };
    let guarded = routes.layer(axum::middleware::from_fn_with_state(own, guard));
    let _ = axum::serve(listener, guarded).await;
}

/// Answers to the server's own name alone: a page elsewhere that had its name point to loopback would ask by that name. What changes
/// anything is asked for by the page itself.
async fn guard(State(own): State<SocketAddr>, asked: Asked, next: Next) -> Response {
    if is_allowed(own, &asked) { next.run(asked).await } else { (StatusCode::FORBIDDEN, "not from here\n").into_response() }
}

fn is_allowed(own: SocketAddr, asked: &Asked) -> bool {
    let header = |name| asked.headers().get(name).and_then(|v| v.to_str().ok());
    let named = header(header::HOST).is_some_and(|host| host == own.to_string());
    match header(header::ORIGIN) {
        Some(origin) => named && origin == format!("http://{own}"),
        None => named && asked.method() == axum::http::Method::GET,
    }
}

/// A text that no cache keeps.
pub(crate) fn text(kind: &'static str, policy: &str, body: String) -> Response {
    let headers = [
        (header::CONTENT_TYPE, kind),
        (header::CACHE_CONTROL, "no-store"),
        (header::CONTENT_SECURITY_POLICY, policy),
        (header::REFERRER_POLICY, "no-referrer"),
        (header::X_CONTENT_TYPE_OPTIONS, "nosniff"),
    ];
    (headers, body).into_response()
}
