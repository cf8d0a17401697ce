//! The page with the list, the controls and the log, and what it asks for.

use std::sync::Arc;
use std::time::Duration;

use axum::extract::{Query, State};
use axum::http::StatusCode;
use axum::response::{IntoResponse, Response};
use axum::routing::{get, post};
use axum::{Json, Router};
use fidelon_core::finding::Finding;
use fidelon_core::results::Component;
use fidelon_core::stage::Combination;
use fidelon_report::told::{condition, in_words, promise};
use fidelon_run::judging::name_of;
use fidelon_run::playground;
use fidelon_run::survey::Job;
use serde::Deserialize;
use serde_json::{Value, json};

use crate::bench::Bench;
use crate::known::{Known, Now};
use crate::{Origins, text};

/// How long a question for news is held.
const HOLD: Duration = Duration::from_secs(25);
/// Expressions and components are deep.
const STACK: usize = 32 << 20;

#[derive(Clone)]
struct Desk {
    known: Arc<Known>,
    bench: Arc<Bench>,
    policy: Arc<str>,
}

pub(crate) fn routes(token: &str, known: Arc<Known>, bench: Arc<Bench>, origins: &Origins) -> Router {
    let policy = format!(
        "default-src 'none'; script-src 'self'; style-src 'self'; connect-src 'self'; img-src data:; frame-src {}; form-action 'none'; base-uri 'none'; frame-ancestors 'none'",
        origins.bench
    );
    let desk = Desk { known, bench, policy: policy.into() };
    let at = |path: &str| format!("/{token}/{path}");
    let fixed =
        |kind: &'static str, body: &'static str| get(move |State(desk): State<Desk>| async move { text(kind, &desk.policy, body.into()) });
    const SCRIPT: &str = "text/javascript; charset=utf-8";
    Router::new()
        .route(&at(""), fixed("text/html; charset=utf-8", include_str!("../js/desk.html")))
        .route(&at("desk.css"), fixed("text/css; charset=utf-8", include_str!("../js/desk.css")))
        .route(&at("elements.js"), fixed(SCRIPT, fidelon_report::html::ELEMENTS))
        .route(&at("controls.js"), fixed(SCRIPT, include_str!("../js/controls.js")))
        .route(&at("desk.js"), fixed(SCRIPT, include_str!("../js/desk.js")))
        .route(&at("components"), get(components))
        .route(&at("component"), get(component))
        .route(&at("news"), get(news))
        .route(&at("lay"), post(lay))
        .route(&at("keep"), post(keep))
        .with_state(desk)
}

/// Waits until something else is known than at the turn that the page has seen.
async fn news(State(desk): State<Desk>, Query(seen): Query<Seen>) -> Response {
    let mut turn = desk.known.turn();
    let _ = tokio::time::timeout(HOLD, turn.wait_for(|turn| *turn > seen.turn)).await;
    let turn = *turn.borrow();
    Json(json!({ "turn": turn })).into_response()
}

#[derive(Deserialize)]
struct Seen {
    turn: u64,
}

async fn components(State(desk): State<Desk>) -> Response {
    let turn = *desk.known.turn().borrow();
    let now = desk.known.now();
    let of = |name: &str| now.results.as_ref().and_then(|r| r.components.iter().find(|c| c.component == name).cloned());
    let list: Vec<Value> = now
        .survey
        .jobs
        .iter()
        .map(|job| {
            let name = name_of(&job.surface);
            let result = of(&name);
            json!({ "name": name, "framework": job.surface.framework, "verdict": result.as_ref().map(|r| r.verdict), "broken": result.map_or(0, |r| r.findings.len()) })
        })
        .collect();
    let faults = now.survey.faults.iter().map(|f| json!({ "place": f.place.to_string(), "message": f.fault.message }));
    Json(json!({ "turn": turn, "saved": now.saved, "components": list, "faults": faults.collect::<Vec<_>>() })).into_response()
}

#[derive(Deserialize)]
struct Named {
    name: String,
}

fn job_of(now: &Now, name: &str) -> Option<usize> {
    now.survey.jobs.iter().position(|job| name_of(&job.surface) == name)
}

fn missing(name: &str) -> Response {
    (StatusCode::NOT_FOUND, format!("there is no component `{name}` any more")).into_response()
}

/// Runs work that needs a realm, on a thread whose stack is deep enough for it.
async fn apart<T: Send + 'static>(work: impl FnOnce() -> T + Send + 'static) -> Option<T> {
    let (tell, told) = tokio::sync::oneshot::channel();
    std::thread::Builder::new().stack_size(STACK).spawn(move || drop(tell.send(work()))).ok()?;
    told.await.ok()
}

/// What a component declares, what it can be given, and what breaks.
async fn component(State(desk): State<Desk>, Query(Named { name }): Query<Named>) -> Response {
    let now = desk.known.now();
    let Some(index) = job_of(&now, &name) else { return missing(&name) };
    let result: Option<Component> = now.results.as_ref().and_then(|r| r.components.iter().find(|c| c.component == name).cloned());
    let (request, survey) = (desk.known.request.clone(), now.survey.clone());
    let combinations =
        apart(move || playground::combinations(&request, &survey, &survey.jobs[index])).await.unwrap_or_else(|| Err("no thread".into()));
    let job: &Job = &now.survey.jobs[index];
    let contract = job.contract.and_then(|c| now.survey.contracts.get(c)).map(|c| c.file.clone());
    let (combinations, why) = match combinations {
        Ok(list) => (
            list.into_iter().map(|(case, c)| json!({ "case": case, "words": c.in_words(), "props": c.props, "fills": c.fills })).collect(),
            None,
        ),
        Err(why) => (Vec::<Value>::new(), Some(why)),
    };
    Json(json!({
        "name": name,
        "surface": job.surface,
        "types": job.surface.props.iter().map(|p| (p.name.clone(), Value::from(p.ty.to_string()))).collect::<serde_json::Map<_, _>>(),
        "scene": job.scene.state.is_some(),
        "contract": contract,
        "combinations": combinations,
        "why": why,
        "verdict": result.as_ref().map(|r| r.verdict),
        "reason": result.as_ref().and_then(|r| r.reason.as_ref()).map(|r| r.message.clone()),
        "findings": result.iter().flat_map(|r| &r.findings).map(finding).collect::<Vec<_>>(),
    }))
    .into_response()
}

fn finding(finding: &Finding) -> Value {
    let (how, first) = condition(finding);
    let also = finding.also.iter().map(|also| in_words(also));
    let causes: Vec<String> = std::iter::once(first).filter(|c| !c.is_empty()).chain(also).collect();
    json!({ "promise": promise(finding), "how": how, "causes": causes, "message": finding.failure.message,
        "expected": finding.failure.expected, "actual": finding.failure.actual, "case": finding.case, "cases": finding.cases })
}

/// Lays a component out; gives the address of its page.
async fn lay(State(desk): State<Desk>, Json(Named { name }): Json<Named>) -> Response {
    let now = desk.known.now();
    let Some(index) = job_of(&now, &name) else { return missing(&name) };
    let job = &now.survey.jobs[index];
    if job.surface.is_served() {
        return (StatusCode::UNPROCESSABLE_ENTITY, "what a server renders is looked at where it is served").into_response();
    }
    match desk.bench.lay(&job.scene) {
        Ok(address) => Json(json!({ "address": address })).into_response(),
        Err(error) => (StatusCode::INTERNAL_SERVER_ERROR, error.to_string()).into_response(),
    }
}

#[derive(Deserialize)]
struct Wanted {
    name: String,
    words: String,
    combination: Combination,
}

/// Keeps a combination as a clause of the component's contract.
async fn keep(State(desk): State<Desk>, Json(wanted): Json<Wanted>) -> Response {
    let now = desk.known.now();
    let Some(index) = job_of(&now, &wanted.name) else { return missing(&wanted.name) };
    let words = wanted.words.split_whitespace().collect::<Vec<_>>().join(" ");
    if words.is_empty() {
        return (StatusCode::UNPROCESSABLE_ENTITY, "say in words what is promised").into_response();
    }
    let (request, survey) = (desk.known.request.clone(), now.survey.clone());
    let kept = apart(move || {
        let job = &survey.jobs[index];
        playground::keep(&request, &survey, job, &words, &wanted.combination)
    });
    match kept.await.unwrap_or_else(|| Err("no thread".into())) {
        Ok(kept) => Json(json!({ "file": kept.file, "line": kept.line })).into_response(),
        Err(why) => (StatusCode::UNPROCESSABLE_ENTITY, why).into_response(),
    }
}
