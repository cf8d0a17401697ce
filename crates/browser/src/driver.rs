//! WebDriver remote ends: found on the machine, started, ended. W3C WebDriver 2.

use std::net::{Ipv4Addr, TcpListener, TcpStream};
use std::path::PathBuf;
use std::process::{Child, Command, Stdio};
use std::sync::{Mutex, MutexGuard, PoisonError};
use std::time::{Duration, Instant};

use fantoccini::wd::{Capabilities, WebDriverCompatibleCommand};
use fantoccini::{Client, ClientBuilder};
use serde_json::json;

/// Which remote end is to be used.
#[derive(Debug, Clone, PartialEq, Eq, Default)]
pub enum DriverChoice {
    /// The first driver that is found on the machine.
    #[default]
    Found,
    /// The remote end at this address: a driver that runs already, a grid, a cloud.
    At(String),
}

/// Why there is no browser.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum DriverError {
    /// No driver is on the machine.
    #[error(
        "no browser can be driven: none of chromedriver, geckodriver and safaridriver is on the PATH. Install one with its browser, or name a remote end with --driver URL"
    )]
    None,
    /// The driver does not start.
    #[error("{driver} does not start: {reason}")]
    Start {
        /// Its name.
        driver: &'static str,
        /// Why.
        reason: String,
    },
    /// The remote end gives no session.
    #[error("{at} opens no browser: {reason}")]
    Session {
        /// The driver or its address.
        at: String,
        /// Why.
        reason: String,
    },
}

/// A driver that can be started.
#[derive(Debug, Clone, Copy)]
struct Kind {
    program: &'static str,
    port: fn(u16) -> String,
}

const KINDS: [Kind; 3] = [
    Kind { program: "chromedriver", port: |p| format!("--port={p}") },
    Kind { program: "geckodriver", port: |p| format!("--port={p}") },
    Kind { program: "safaridriver", port: |p| format!("--port={p}") },
];

/// How long a driver may take to answer for the first time.
const PATIENCE: Duration = Duration::from_secs(20);
/// How long a session may take to end.
const FAREWELL: Duration = Duration::from_secs(3);

/// What must not outlive us.
#[derive(Debug)]
struct Ours {
    /// Drivers, each the leader of a group to which its browsers belong.
    drivers: Vec<u32>,
    /// Folders of browsers.
    profiles: Vec<PathBuf>,
    /// The program is about to end.
    over: bool,
}

static OURS: Mutex<Ours> = Mutex::new(Ours { drivers: Vec::new(), profiles: Vec::new(), over: false });

/// What is ours, for who starts or ends some of it. Once everything was ended nobody gets it any more: who lost a browser that way
/// must not start another, nor tell a verdict about it.
fn ours() -> MutexGuard<'static, Ours> {
    let ours = OURS.lock().unwrap_or_else(PoisonError::into_inner);
    if ours.over {
        drop(ours);
        loop {
            std::thread::park();
        }
    }
    ours
}

/// Ends all drivers and browsers at once: for a program that is interrupted, which must then exit.
pub fn end_all() {
    let mut ours = ours();
    ours.over = true;
    ours.drivers.drain(..).for_each(end);
    // A browser that is just ending may still write there.
    for folder in ours.profiles.drain(..) {
        for _ in 0..20 {
            if std::fs::remove_dir_all(&folder).is_ok() || !folder.exists() {
                break;
            }
            std::thread::sleep(Duration::from_millis(10));
        }
    }
}

/// Ends the group that a driver leads, its browsers with it.
fn end(process: u32) {
    #[cfg(unix)]
    if let Some(pid) = i32::try_from(process).ok().and_then(rustix::process::Pid::from_raw) {
        let _ = rustix::process::kill_process_group(pid, rustix::process::Signal::KILL);
    }
    #[cfg(not(unix))]
    let _ = process;
}

/// A bare page that runs scripts: for pictures, for tests of pages of ours, for benches that compare interfaces.
#[derive(Debug)]
pub struct Page {
    driver: Driver,
    runtime: tokio::runtime::Runtime,
}

impl Page {
    /// Opens a browser with an empty page.
    ///
    /// # Errors
    /// [`DriverError`] says what is missing.
    pub fn open(wanted: &DriverChoice) -> Result<Self, DriverError> {
        let failed = |e: std::io::Error| DriverError::Session { at: "the browser".into(), reason: e.to_string() };
        let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(1).enable_all().build().map_err(failed)?;
        // It loads nothing: the discard port stands for a server.
        let driver = Driver::open(wanted, "127.0.0.1:9", runtime.handle())?;
        Ok(Self { driver, runtime })
    }

    /// Opens a browser that reaches servers of this machine, on any port, and nothing else.
    ///
    /// # Errors
    /// [`DriverError`] says what is missing.
    pub fn open_here(wanted: &DriverChoice) -> Result<Self, DriverError> {
        let failed = |e: std::io::Error| DriverError::Session { at: "the browser".into(), reason: e.to_string() };
        let runtime = tokio::runtime::Builder::new_multi_thread().worker_threads(1).enable_all().build().map_err(failed)?;
        let driver = Driver::open(wanted, "127.0.0.1", runtime.handle())?;
        Ok(Self { driver, runtime })
    }

    /// Runs the body of a function in a frame of the page, by its place among the frames.
    ///
    /// # Errors
    /// What the remote end says.
    pub fn run_in_frame(&self, frame: u16, script: &str) -> Result<serde_json::Value, String> {
        let client = self.driver.client.as_ref().ok_or("the session is over")?;
        let work = async {
            client.clone().enter_frame(frame).await?;
            let answer = client.execute(script, Vec::new()).await;
            client.clone().enter_parent_frame().await?;
            answer
        };
        self.runtime.block_on(work).map_err(|e: fantoccini::error::CmdError| e.to_string())
    }

    /// Runs the body of a function with these arguments and gives what it returns.
    ///
    /// # Errors
    /// What the remote end says.
    pub fn run(&self, script: &str, arguments: Vec<serde_json::Value>) -> Result<serde_json::Value, String> {
        let client = self.driver.client.as_ref().ok_or("the session is over")?;
        self.runtime.block_on(client.execute(script, arguments)).map_err(|e| e.to_string())
    }

    /// Gives the window a size, in CSS pixels.
    ///
    /// # Errors
    /// What the remote end says.
    pub fn resize(&self, width: u32, height: u32) -> Result<(), String> {
        let client = self.driver.client.as_ref().ok_or("the session is over")?;
        self.runtime.block_on(client.set_window_size(width, height)).map_err(|e| e.to_string())
    }

    /// What the window shows, as a PNG.
    ///
    /// # Errors
    /// What the remote end says.
    pub fn screenshot(&self) -> Result<Vec<u8>, String> {
        let client = self.driver.client.as_ref().ok_or("the session is over")?;
        self.runtime.block_on(client.screenshot()).map_err(|e| e.to_string())
    }

    /// Brings the page to an address.
    ///
    /// # Errors
    /// What the remote end says.
    pub fn go(&self, url: &str) -> Result<(), String> {
        self.driver.go(url)?;
        let end = Instant::now() + PATIENCE;
        while Instant::now() < end {
            let there = self.run(
                "return document.readyState === 'complete' && location.href.startsWith(arguments[0])",
                vec![json!(&url[..url.find(',').unwrap_or(url.len())])],
            );
            if there == Ok(json!(true)) {
                return Ok(());
            }
            std::thread::sleep(Duration::from_millis(10));
        }
        Err("the page did not load".into())
    }
}

/// A driver's process.
#[derive(Debug)]
struct Process {
    child: Child,
}

impl Drop for Process {
    fn drop(&mut self) {
        end(self.child.id());
        let _ = self.child.kill();
        let _ = self.child.wait();
        ours().drivers.retain(|p| *p != self.child.id());
    }
}

/// A browser under our hand.
#[derive(Debug)]
pub(crate) struct Driver {
    client: Option<Client>,
    /// Whether its window was given its size.
    fits: std::cell::Cell<bool>,
    // Dropped after the session was ended.
    process: Option<Process>,
    profile: Option<tempfile::TempDir>,
    runtime: tokio::runtime::Handle,
    /// `chromedriver` or an address.
    pub(crate) at: String,
}

impl Driver {
    /// Opens a browser that reaches `server` (`127.0.0.1:port`) and nothing else.
    ///
    /// # Errors
    /// [`DriverError`] says what is missing.
    pub(crate) fn open(wanted: &DriverChoice, server: &str, runtime: &tokio::runtime::Handle) -> Result<Self, DriverError> {
        let (process, address, at) = match wanted {
            DriverChoice::At(url) => (None, url.clone(), url.clone()),
            DriverChoice::Found => {
                let kind = KINDS.into_iter().find(|k| on_path(k.program).is_some()).ok_or(DriverError::None)?;
                let (process, port) = start(kind)?;
                (Some(process), format!("http://127.0.0.1:{port}"), kind.program.to_owned())
            }
        };
        // A browser on another machine has no folder of ours.
        let profile = process.as_ref().and_then(|_| profile());
        // What stands behind an address does not tell before it is asked: each kind of browser is, then any.
        let kinds: &[&str] = if process.is_some() { &[&at] } else { &["chromedriver", "geckodriver", ""] };
        let mut session = Err(String::new());
        for kind in kinds {
            let wanted = capabilities(kind, server, profile.as_ref().map(tempfile::TempDir::path));
            session = runtime.block_on(connect(&address, wanted));
            // Where nobody answers there is no need to ask again.
            if session.as_ref().map_or_else(|reason| reason.contains("Connect"), |_| true) {
                break;
            }
        }
        let client = session.map_err(|reason| DriverError::Session { at: at.clone(), reason })?;
        // Where the browser takes it: the page has the focus whatever window the system shows in front. Others take it to have it.
        let _ = runtime.block_on(client.issue_cmd(DevTools::focus()));
        let _ = runtime.block_on(client.issue_cmd(DevTools::at_start()));
        Ok(Self { client: Some(client), fits: std::cell::Cell::new(false), process, profile, runtime: runtime.clone(), at })
    }

    /// The driver's process, where it is one of ours.
    pub(crate) fn process(&self) -> Option<u32> {
        self.process.as_ref().map(|p| p.child.id())
    }

    /// The session, for who makes input by it.
    pub(crate) fn hand(&self) -> Option<Client> {
        self.client.clone()
    }

    /// Brings the browser to an address.
    ///
    /// # Errors
    /// What the remote end says.
    pub(crate) fn go(&self, url: &str) -> Result<(), String> {
        let client = self.client.as_ref().ok_or("the session is over")?;
        let going = async { tokio::time::timeout(PATIENCE, client.goto(url)).await };
        let went = self.runtime.block_on(going).map_err(|_| "the browser does not answer".to_owned())?;
        went.map_err(|e| e.to_string())?;
        // What the browser keeps for itself shows with the first page.
        if !self.fits.replace(true) {
            self.runtime.block_on(fit(client));
        }
        Ok(())
    }
}

impl Drop for Driver {
    fn drop(&mut self) {
        if let Some(client) = self.client.take() {
            let _ = self.runtime.block_on(async { tokio::time::timeout(FAREWELL, client.close()).await });
        }
        if let Some(profile) = &self.profile {
            ours().profiles.retain(|p| p != profile.path());
        }
    }
}

/// A command of the DevTools protocol, through the driver's own extension command: other drivers refuse it.
#[derive(Debug)]
struct DevTools {
    command: &'static str,
    params: serde_json::Value,
}

impl DevTools {
    /// Pages act as if their window had the focus.
    fn focus() -> Self {
        Self { command: "Emulation.setFocusEmulationEnabled", params: json!({ "enabled": true }) }
    }

    /// What runs in every window first.
    fn at_start() -> Self {
        Self { command: "Page.addScriptToEvaluateOnNewDocument", params: json!({ "source": include_str!("../js/frames.js") }) }
    }

    /// A window can be no narrower than its frame, a page can.
    fn page_size(width: u32, height: u32) -> Self {
        let params = json!({ "width": width, "height": height, "deviceScaleFactor": 0, "mobile": false });
        Self { command: "Emulation.setDeviceMetricsOverride", params }
    }
}

impl WebDriverCompatibleCommand for DevTools {
    fn endpoint(&self, base: &url::Url, session: Option<&str>) -> Result<url::Url, url::ParseError> {
        base.join(&format!("session/{}/goog/cdp/execute", session.unwrap_or_default()))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        (http::Method::POST, Some(json!({ "cmd": self.command, "params": self.params }).to_string()))
    }
}

/// Gives a page so much room, by the driver's own extension where it has one, else by the size of its window.
pub(crate) async fn size(client: &Client, width: u32, height: u32) -> Result<(), String> {
    if client.issue_cmd(DevTools::page_size(width, height)).await.is_ok() {
        return Ok(());
    }
    const ASK: &str = "return [outerWidth - innerWidth, outerHeight - innerHeight];";
    let told = client.execute(ASK, Vec::new()).await.map_err(|e| e.to_string())?;
    let [more, higher] = serde_json::from_value::<[u32; 2]>(told).map_err(|e| e.to_string())?;
    client.set_window_size(width + more, height + higher).await.map_err(|e| e.to_string())
}

async fn connect(address: &str, wanted: Capabilities) -> Result<Client, String> {
    let tls = hyper_rustls::HttpsConnectorBuilder::new().with_native_roots().map_err(|e| e.to_string());
    let built = match (address.starts_with("https:"), tls) {
        (true, Err(reason)) => return Err(reason),
        (true, Ok(tls)) => ClientBuilder::new(tls.https_or_http().enable_http1().build()).capabilities(wanted).connect(address).await,
        (false, _) => {
            ClientBuilder::new(hyper_util::client::legacy::connect::HttpConnector::new()).capabilities(wanted).connect(address).await
        }
    };
    built.map_err(|e| e.to_string())
}

/// Makes the window so large that a page has as much room as on the embedded stage: what the browser keeps for itself comes on top.
async fn fit(client: &Client) {
    const ASK: &str = "return [outerWidth - innerWidth, outerHeight - innerHeight];";
    let kept = client.execute(ASK, Vec::new()).await.ok().and_then(|told| serde_json::from_value::<[u32; 2]>(told).ok());
    // A browser that cannot tell, or whose window cannot be changed, shows pages as it likes.
    if let Some([width, height]) = kept {
        let _ = client.set_window_size(1280 + width, 800 + height).await;
    }
}

/// What is asked of the browser: no window on a screen, no profile of somebody's, no calls to its maker, and no way to anybody but our
/// own server: it is named as the proxy for all others, and gives them nothing.
fn capabilities(at: &str, server: &str, profile: Option<&std::path::Path>) -> Capabilities {
    let mut arguments: Vec<String> = [
        "--headless=new",
        "--window-size=1280,800",
        "--hide-scrollbars",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--disable-default-apps",
        "--disable-extensions",
        "--disable-background-timer-throttling",
        "--disable-renderer-backgrounding",
        "--disable-backgrounding-occluded-windows",
        "--disable-dev-shm-usage",
        "--lang=en-US",
    ]
    .map(String::from)
    .to_vec();
    // Without a port of its own it is no server that could answer for others.
    let proxy = if server.contains(':') { server } else { "127.0.0.1:9" };
    arguments.push(format!("--proxy-server=http://{proxy}"));
    arguments.push(format!("--proxy-bypass-list=<-loopback>;{server}"));
    arguments.push("--force-webrtc-ip-handling-policy=disable_non_proxied_udp".into());
    if let Some(profile) = profile {
        arguments.push(format!("--user-data-dir={}", profile.display()));
    }
    // A browser that runs as root has no sandbox of its own.
    #[cfg(unix)]
    if rustix::process::getuid().is_root() {
        arguments.push("--no-sandbox".into());
    }
    let options = match at {
        "chromedriver" => json!({ "goog:chromeOptions": { "args": arguments } }),
        "geckodriver" => json!({
            "moz:firefoxOptions": {
                "args": ["-headless", "--width=1280", "--height=800"],
                "prefs": { "network.proxy.allow_hijacking_localhost": true, "media.peerconnection.enabled": false },
            },
            "proxy": { "proxyType": "manual", "httpProxy": server, "sslProxy": server, "noProxy": [server] },
        }),
        _ => json!({}),
    };
    let mut wanted = options.as_object().cloned().unwrap_or_default();
    wanted.insert("pageLoadStrategy".into(), json!("none"));
    wanted.insert("unhandledPromptBehavior".into(), json!("dismiss"));
    wanted
}

fn on_path(program: &str) -> Option<PathBuf> {
    let name = format!("{program}{}", std::env::consts::EXE_SUFFIX);
    std::env::split_paths(&std::env::var_os("PATH")?).map(|folder| folder.join(&name)).find(|file| file.is_file())
}

/// Whether a driver is on the machine.
pub fn is_there() -> bool {
    KINDS.iter().any(|k| on_path(k.program).is_some())
}

/// A folder for a browser of ours.
fn profile() -> Option<tempfile::TempDir> {
    let mut ours = ours();
    let folder = tempfile::Builder::new().prefix("fidelon-").tempdir().ok()?;
    ours.profiles.push(folder.path().to_path_buf());
    Some(folder)
}

fn start(kind: Kind) -> Result<(Process, u16), DriverError> {
    let failed = |reason: String| DriverError::Start { driver: kind.program, reason };
    // A free port may be taken by somebody else before the driver takes it.
    let mut last = String::new();
    for _ in 0..3 {
        let free = TcpListener::bind((Ipv4Addr::LOCALHOST, 0)).and_then(|l| l.local_addr()).map_err(|e| failed(e.to_string()))?.port();
        let mut command = Command::new(kind.program);
        command.arg((kind.port)(free)).stdin(Stdio::null()).stdout(Stdio::null()).stderr(Stdio::null());
        // An interrupt of the terminal is ours to handle.
        #[cfg(unix)]
        std::os::unix::process::CommandExt::process_group(&mut command, 0);
        let mut process = {
            let mut ours = ours();
            let child = command.spawn().map_err(|e| failed(e.to_string()))?;
            ours.drivers.push(child.id());
            Process { child }
        };
        let began = Instant::now();
        while began.elapsed() < PATIENCE {
            if TcpStream::connect((Ipv4Addr::LOCALHOST, free)).is_ok() {
                return Ok((process, free));
            }
            if let Ok(Some(status)) = process.child.try_wait() {
                last = format!("it ended at once ({status})");
                break;
            }
            std::thread::sleep(Duration::from_millis(10));
        }
        if last.is_empty() {
            last = format!("it does not answer after {} s", PATIENCE.as_secs());
        }
    }
    Err(failed(last))
}
