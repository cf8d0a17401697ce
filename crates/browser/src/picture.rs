//! A page of ours as a picture, by a real browser.

use std::io::Write as _;
use std::time::{Duration, Instant};

use crate::driver::{DriverChoice, Page};

/// The tallest page that browsers draw into one picture, in CSS pixels.
const TALLEST: u64 = 16_000;
/// How long a page may take to come to rest.
const PATIENCE: Duration = Duration::from_secs(60);

/// Draws a whole page, `width` CSS pixels wide; gives the bytes of a PNG.
///
/// # Errors
/// In words: that there is no browser, that the page is too tall, what the browser says.
pub fn picture(html: &str, width: u32) -> Result<Vec<u8>, String> {
    let missing = |e: crate::DriverError| format!("a picture is drawn by a real browser: {e}. Without one: --to sheet.html");
    let page = Page::open(&DriverChoice::Found).map_err(missing)?;
    let mut file = tempfile::Builder::new().suffix(".html").tempfile().map_err(|e| e.to_string())?;
    file.write_all(html.as_bytes()).map_err(|e| e.to_string())?;
    let address = url::Url::from_file_path(file.path()).map_err(|()| "a temporary file has no address".to_owned())?;
    page.resize(width, 1200)?;
    page.go(address.as_str())?;
    let end = Instant::now() + PATIENCE;
    let mut height = 0;
    loop {
        let now = page.run(STATE, Vec::new())?;
        let (tall, waits) = (now[0].as_u64().unwrap_or(0), now[1].as_u64().unwrap_or(0));
        if tall > TALLEST {
            return Err(format!(
                "the page is {tall} pixels tall, and a picture can have {TALLEST}: name fewer components, a greater --width, or --to sheet.html"
            ));
        }
        if tall == height && waits == 0 {
            break;
        }
        if Instant::now() > end {
            return Err("the page does not come to rest".into());
        }
        // What comes into the window is drawn, which changes the height again.
        height = tall;
        page.resize(width, u32::try_from(tall.max(200)).unwrap_or(1200))?;
        std::thread::sleep(Duration::from_millis(150));
    }
    page.screenshot()
}

/// The height of the page, and how many frames it waits for.
const STATE: &str = "const frames = [...document.querySelectorAll('iframe')];\
    return [Math.ceil(document.documentElement.getBoundingClientRect().height + 48), document.querySelectorAll('.blank[data-page]').length \
    + frames.filter((f) => f.contentDocument?.readyState !== 'complete').length];";
