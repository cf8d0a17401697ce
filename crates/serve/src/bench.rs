//! The page that a component is mounted on: modules as the browser stage serves them, in real time and under a person's own hand.

use std::collections::BTreeMap;
use std::sync::{Arc, Mutex};

use axum::Router;
use axum::extract::{Path, State};
use axum::http::{StatusCode, header};
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use fidelon_browser::{MODULES, Modules};
use fidelon_core::scene::Scene;
use fidelon_run::{Form, Request, scene_modules};

use crate::{Origins, text};

/// Component code is a stranger's: it fetches its own modules and nothing else, and stands in a frame of the desk alone.
fn policy(desk: &str) -> String {
    format!(
        "default-src 'none'; script-src 'self' 'unsafe-inline' 'unsafe-eval'; connect-src 'self'; style-src 'unsafe-inline'; \
         img-src data: blob:; media-src data: blob:; font-src data:; frame-src 'none'; worker-src 'none'; form-action 'none'; base-uri 'none'; \
         frame-ancestors {desk}"
    )
}

/// Scenes that were laid out; older pages still ask for modules of theirs.
const MOST_LAID: usize = 6;

/// The benches that are laid out.
pub(crate) struct Bench {
    request: Request,
    origins: Origins,
    laid: Mutex<Laid>,
}

#[derive(Default)]
struct Laid {
    /// In the order in which they were laid out.
    order: Vec<String>,
    by_path: BTreeMap<String, Modules>,
}

impl Bench {
    pub(crate) fn new(request: &Request, origins: Origins) -> Self {
        Self { request: request.clone(), origins, laid: Mutex::default() }
    }

    /// Lays a scene out anew, with its files as they are now; gives the address of its page.
    pub(crate) fn lay(&self, scene: &Scene) -> std::io::Result<String> {
        let path = fidelon_browser::secret();
        let common = &self.request.stage.common;
        let modules = Modules::start(self.request.root.clone(), common.cache.clone(), common.aliases.clone(), format!("/{path}"))?;
        let first = scene.parts.first().map(|p| self.request.root.join(&p.surface.file)).unwrap_or_default();
        modules.scene(scene_modules(scene, &self.request.root), first.to_string_lossy().into_owned(), None);
        if let Ok(mut laid) = self.laid.lock() {
            laid.order.push(path.clone());
            laid.by_path.insert(path.clone(), modules);
            if laid.order.len() > MOST_LAID {
                let oldest = laid.order.remove(0);
                laid.by_path.remove(&oldest);
            }
        }
        Ok(format!("{}/{path}/", self.origins.bench))
    }

    fn modules(&self, path: &str) -> Option<Modules> {
        self.laid.lock().ok()?.by_path.get(path).cloned()
    }
}

type Served = State<Arc<Bench>>;

pub(crate) fn routes(bench: Arc<Bench>) -> Router {
    Router::new()
        .route("/{path}/", get(page))
        .route("/{path}/s/{*name}", get(|s: Served, p: Path<(String, String)>| module(s, p, Form::Facade)))
        .route("/{path}/m/{*name}", get(|s: Served, p: Path<(String, String)>| module(s, p, Form::Facade)))
        .route("/{path}/c/{*name}", get(|s: Served, p: Path<(String, String)>| module(s, p, Form::Register)))
        .route("/{path}/resolve", post(resolve))
        .route("/{path}/fault", get(fault))
        .with_state(bench)
}

async fn page(State(bench): Served, Path(path): Path<String>) -> Response {
    if bench.modules(&path).is_none() {
        return StatusCode::NOT_FOUND.into_response();
    }
    let script = format!(
        "(() => {{ 'use strict';\n{}\n{MODULES}\n{};\n{}\n}})();",
        include_str!("../js/around.js"),
        fidelon_run::SURROUNDINGS,
        include_str!("../js/bench.js")
    )
    .replace("</script", "<\\/script");
    let html = format!(
        "<!DOCTYPE html><html lang=\"en\"><head><meta charset=\"utf-8\"><meta name=\"viewport\" content=\"width=device-width, initial-scale=1\">\
         <title>A component</title><script data-base=\"/{path}\" data-desk=\"{}\">{script}</script></head><body></body></html>",
        bench.origins.desk
    );
    text("text/html; charset=utf-8", &policy(&bench.origins.desk), html)
}

async fn module(State(bench): Served, Path((path, name)): Path<(String, String)>, form: Form) -> Response {
    let Some(modules) = bench.modules(&path) else { return StatusCode::NOT_FOUND.into_response() };
    match modules.text(form, name).await {
        Ok(text) => ([(header::CONTENT_TYPE, "text/javascript; charset=utf-8"), (header::CACHE_CONTROL, "no-store")], text).into_response(),
        Err(message) => (StatusCode::NOT_FOUND, message).into_response(),
    }
}

/// What is wrong with the first module that could not be served: the page itself is told no more than that one did not come.
async fn fault(State(bench): Served, Path(path): Path<String>) -> Response {
    let Some(modules) = bench.modules(&path) else { return StatusCode::NOT_FOUND.into_response() };
    let fault = tokio::task::spawn_blocking(move || modules.fault()).await.ok().flatten();
    let root = format!("{}/", bench.request.root.display());
    fault.map_or_else(String::new, |fault| fault.to_line().replace(&root, "")).into_response()
}

async fn resolve(State(bench): Served, Path(path): Path<String>, body: String) -> Response {
    let (Some(modules), Ok((specifier, from))) = (bench.modules(&path), serde_json::from_str::<(String, String)>(&body)) else {
        return StatusCode::BAD_REQUEST.into_response();
    };
    match modules.resolve(specifier, from).await {
        Ok(address) => address.into_response(),
        // An address that is not served: the import fails as it should.
        Err(message) => format!("/{path}/nowhere/{}", message.replace(['/', '?', '#'], " ")).into_response(),
    }
}
