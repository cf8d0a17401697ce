//! Judging in the background: what is asked last counts, and what it takes the place of is stopped.

use std::collections::HashMap;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, channel};
use std::sync::{Arc, Mutex, PoisonError};
use std::time::Duration;

use fidelon_core::Surface;
use fidelon_core::results::Results;
use fidelon_report::rendered::{self, Form};
use fidelon_run::drafting::draft;
use fidelon_run::survey::{Survey, survey};
use fidelon_run::{JudgeOptions, RenderRequest, Request, Stop, check, render, warm};
use fidelon_source::unsaved::{self, Unsaved};

/// So long nothing may come before a look begins: in between somebody is in the middle of a word.
const QUIET: Duration = Duration::from_millis(40);

/// What is to be done.
pub(crate) enum Order {
    /// Judges what is open in a project.
    Look {
        root: PathBuf,
        /// Files that hold components, and contracts.
        paths: Vec<PathBuf>,
        /// Texts that are typed and not saved.
        unsaved: Arc<Unsaved>,
        /// Whether what was judged before counts for nothing.
        anew: bool,
        /// Which of the looks at this project it is.
        number: u64,
    },
    /// Drafts a contract of a component.
    Draft {
        root: PathBuf,
        /// `file` or `file#export`.
        component: String,
    },
}

/// What has come of it.
pub(crate) enum News {
    /// What the components that are open declare, and their contracts.
    Surveyed { root: PathBuf, survey: Box<Survey> },
    /// What was found so far.
    Judged {
        root: PathBuf,
        results: Box<Results>,
        /// Whether a quick look was taken only: what it does not find may be there.
        is_glance: bool,
    },
    /// What the nodes of components are called, by component: roles with names.
    Shown { root: PathBuf, nodes: Vec<(String, Vec<String>)> },
    /// The text of a drafted contract, or why there is none.
    Drafted { root: PathBuf, component: String, text: Result<String, String> },
    /// A path that cannot be judged, or what went wrong on the way.
    Failed { message: String },
}

/// Makes a request for paths of a project.
pub type MakeRequest = Box<dyn Fn(PathBuf, Vec<PathBuf>) -> Request + Send>;

/// Which look is wanted of each project, and which is under way.
#[derive(Default)]
struct Looks {
    wanted: HashMap<PathBuf, u64>,
    current: Option<(PathBuf, Stop)>,
}

/// The thread that judges, as seen by who asks.
pub(crate) struct Looking {
    orders: Sender<Order>,
    looks: Arc<Mutex<Looks>>,
}

impl Looking {
    /// Starts the thread. Its news come by the channel.
    pub(crate) fn start(request: MakeRequest, news: impl Fn(News) -> bool + Send + 'static) -> Self {
        let (orders, ordered) = channel();
        let looks = Arc::new(Mutex::new(Looks::default()));
        let worker = Worker { request, ordered, news: Box::new(news), looks: looks.clone() };
        std::thread::Builder::new().name("looking".into()).spawn(move || worker.work()).expect("the system gives a thread");
        Self { orders, looks }
    }

    /// Asks for something. A look at the same project that is under way ends.
    pub(crate) fn ask(&self, mut order: Order) {
        if let Order::Look { root, number, .. } = &mut order {
            let mut looks = self.looks.lock().unwrap_or_else(PoisonError::into_inner);
            let wanted = looks.wanted.entry(root.clone()).or_default();
            *wanted += 1;
            *number = *wanted;
            if let Some((_, stop)) = looks.current.as_ref().filter(|(of, _)| of == root) {
                stop.now();
            }
        }
        // A thread that is gone has told why.
        let _ = self.orders.send(order);
    }
}

struct Worker {
    request: MakeRequest,
    ordered: Receiver<Order>,
    /// Takes news; false when nobody listens any more.
    news: Box<dyn Fn(News) -> bool + Send>,
    looks: Arc<Mutex<Looks>>,
}

impl Worker {
    fn work(self) {
        let mut last: Option<Request> = None;
        while let Some(orders) = self.next() {
            for order in orders {
                let goes_on = match order {
                    Order::Look { root, paths, unsaved, anew, number } => {
                        unsaved::hold(unsaved);
                        let mut request = (self.request)(root, paths);
                        // Stages are used again as long as the project's settings are the same.
                        match &last {
                            Some(before) if before.root == request.root && before.stage.common.aliases == request.stage.common.aliases => {
                                request.stage = before.stage.clone();
                            }
                            _ => request.stage = request.stage.pooled(),
                        }
                        request.anew = anew;
                        request.stop = self.begin(&request.root, number);
                        let is_first = last.is_none();
                        last = Some(request.clone());
                        self.look(&request, is_first)
                    }
                    Order::Draft { root, component } => {
                        let request = (self.request)(root.clone(), Vec::new());
                        let text = draft(&root, &component, &[], &request.stage).map(|d| d.text).map_err(|e| e.to_string());
                        (self.news)(News::Drafted { root, component, text })
                    }
                };
                if !goes_on {
                    return;
                }
            }
        }
    }

    /// What ends a look. One that another was asked in place of meanwhile ends before it begins.
    fn begin(&self, root: &Path, number: u64) -> Stop {
        let stop = Stop::default();
        let mut looks = self.looks.lock().unwrap_or_else(PoisonError::into_inner);
        if looks.wanted.get(root).is_some_and(|wanted| *wanted > number) {
            stop.now();
        }
        looks.current = Some((root.to_path_buf(), stop.clone()));
        stop
    }

    /// The orders that came together: of looks at one project the last alone.
    fn next(&self) -> Option<Vec<Order>> {
        let mut out = vec![self.ordered.recv().ok()?];
        loop {
            match self.ordered.recv_timeout(QUIET) {
                Ok(order) => out.push(order),
                Err(RecvTimeoutError::Timeout) => break,
                Err(RecvTimeoutError::Disconnected) => return None,
            }
        }
        let mut kept: Vec<Order> = Vec::new();
        for order in out.into_iter().rev() {
            let is_old = |known: &Order| match (known, &order) {
                (Order::Look { root: a, .. }, Order::Look { root: b, .. }) => a == b,
                _ => false,
            };
            if !kept.iter().any(is_old) {
                kept.push(order);
            }
        }
        kept.reverse();
        Some(kept)
    }

    /// Surveys, takes a glance, judges whole, and sees what the components show. False when nobody listens any more.
    fn look(&self, request: &Request, is_first: bool) -> bool {
        let root = request.root.clone();
        let survey = match survey(&request.root, &request.paths, &request.stage.common.cache) {
            Ok(survey) => survey,
            Err(error) => return (self.news)(News::Failed { message: error.to_string() }),
        };
        if !(self.news)(News::Surveyed { root: root.clone(), survey: Box::new(survey.clone()) }) {
            return false;
        }
        for is_glance in [true, false] {
            let request = Request { how: JudgeOptions { glance: is_glance, ..request.how }, ..request.clone() };
            let outcome = check(&request, &|_| {});
            if request.stop.is_set() {
                return true;
            }
            let goes_on = match outcome {
                Ok(outcome) => (self.news)(News::Judged { root: root.clone(), results: Box::new(outcome.results), is_glance }),
                Err(error) => (self.news)(News::Failed { message: error.to_string() }),
            };
            if !goes_on {
                return false;
            }
        }
        let mut nodes = Vec::new();
        for job in survey.jobs.iter().filter(|job| job.contract.is_some()) {
            if request.stop.is_set() {
                return true;
            }
            let name = component_of(&job.surface);
            let asked = RenderRequest { component: &name, ..RenderRequest::default() };
            if let Ok(seen) = render(&root, asked, &request.stage) {
                let outline = rendered::print(&seen.surface, &seen.combination, &seen.seen, Form::Outline);
                nodes.push((name, nodes_of(&outline)));
            }
        }
        if is_first {
            warm(request);
        }
        (self.news)(News::Shown { root, nodes })
    }
}

/// How results and commands name a component.
pub(crate) fn component_of(surface: &Surface) -> String {
    if surface.export == "default" { surface.file.clone() } else { format!("{}#{}", surface.file, surface.export) }
}

/// The nodes of an outline that a contract can name: `button "Raise"`, each once.
fn nodes_of(outline: &str) -> Vec<String> {
    let mut out: Vec<String> = Vec::new();
    for line in outline.lines().map(str::trim) {
        let Some((role, rest)) = line.split_once(" \"") else { continue };
        let Some(end) = rest.find('"') else { continue };
        let node = format!("{role} \"{}\"", &rest[..end]);
        if role.chars().all(|c| c.is_ascii_lowercase()) && !out.contains(&node) {
            out.push(node);
        }
    }
    out
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nodes_are_named_as_contracts_name_them() {
        let outline =
            "group \"Bisque\"\n  spinbutton \"Target\", value 600\n  button \"Raise\"\n  button \"Raise\", disabled\n  text 600 °C\n";
        assert_eq!(nodes_of(outline), ["group \"Bisque\"", "spinbutton \"Target\"", "button \"Raise\""]);
    }

    #[test]
    fn of_looks_that_come_together_the_last_counts() {
        let (orders, ordered) = channel();
        let request: MakeRequest = Box::new(|_, _| unreachable!("nothing is looked at"));
        let worker = Worker { request, ordered, news: Box::new(|_| true), looks: Arc::default() };
        let look = |root: &str, anew| Order::Look { root: root.into(), paths: Vec::new(), unsaved: Arc::default(), anew, number: 0 };
        for order in [look("/a", true), look("/b", true), look("/a", false)] {
            orders.send(order).expect("listened to");
        }
        let kept: Vec<(String, bool)> = worker
            .next()
            .expect("orders")
            .into_iter()
            .filter_map(|order| match order {
                Order::Look { root, anew, .. } => Some((root.display().to_string(), anew)),
                Order::Draft { .. } => None,
            })
            .collect();
        assert_eq!(kept, [("/b".to_owned(), true), ("/a".to_owned(), false)]);
    }

    #[test]
    fn a_look_ends_by_the_next_at_the_same_project_alone() {
        let (orders, ordered) = channel();
        let looks: Arc<Mutex<Looks>> = Arc::default();
        let request: MakeRequest = Box::new(|_, _| unreachable!("nothing is looked at"));
        let worker = Worker { request, ordered, news: Box::new(|_| true), looks: looks.clone() };
        let looking = Looking { orders, looks };
        let look = |root: &str| Order::Look { root: root.into(), paths: Vec::new(), unsaved: Arc::default(), anew: false, number: 0 };
        looking.ask(look("/a"));
        let first = worker.begin(Path::new("/a"), 1);
        looking.ask(look("/b"));
        assert!(!first.is_set(), "another project's look is another matter");
        looking.ask(look("/a"));
        assert!(first.is_set());
        // The third was asked before the second began.
        looking.ask(look("/a"));
        assert!(worker.begin(Path::new("/a"), 2).is_set());
        assert!(!worker.begin(Path::new("/a"), 3).is_set());
    }
}
