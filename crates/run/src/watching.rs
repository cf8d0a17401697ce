//! Which files change: the folders of a project are watched, and what comes together is told together.

use std::collections::BTreeSet;
use std::path::{Path, PathBuf};
use std::sync::mpsc::{Receiver, RecvTimeoutError, Sender, channel};
use std::time::{Duration, Instant};

use fidelon_reader::LeftOut;
use notify::{EventKind, RecommendedWatcher, RecursiveMode, Watcher as _};

/// An editor that writes a file whole makes several events of one save: so long after the last one it is told …
const QUIET: Duration = Duration::from_millis(25);
/// … and so long after the first at the latest.
const LONGEST: Duration = Duration::from_millis(250);

/// Files of a project, watched.
#[derive(Debug)]
pub struct Watching {
    root: PathBuf,
    left_out: LeftOut,
    watcher: RecommendedWatcher,
    events: Receiver<notify::Result<notify::Event>>,
}

/// Something that a loop waits for beside files.
#[derive(Debug, Clone, PartialEq, Eq)]
pub enum Woken<T> {
    /// These files were changed, made or taken away.
    Changed(BTreeSet<PathBuf>),
    /// This came from elsewhere.
    Told(T),
}

impl Watching {
    /// Watches all folders below a root, but for those of installed packages and those that git ignores.
    ///
    /// # Errors
    /// What the system says: most often that too many folders are watched.
    pub fn start(root: &Path) -> Result<Self, String> {
        let (tell, events) = channel();
        let watcher = notify::recommended_watcher(tell).map_err(|e| e.to_string())?;
        let mut out = Self { root: root.to_path_buf(), left_out: LeftOut::of(root), watcher, events };
        out.watch(root)?;
        Ok(out)
    }

    fn watch(&mut self, folder: &Path) -> Result<(), String> {
        for folder in fidelon_reader::folders_in(folder) {
            self.watcher
                .watch(&folder, RecursiveMode::NonRecursive)
                .map_err(|e| format!("`{}` cannot be watched: {e}", folder.display()))?;
        }
        Ok(())
    }

    /// Hands over everything to a channel: changes as they come together, until nobody listens.
    pub fn into_channel<T: Send + 'static>(mut self, to: Sender<Woken<T>>) {
        std::thread::spawn(move || {
            while let Some(changed) = self.next() {
                if to.send(Woken::Changed(changed)).is_err() {
                    return;
                }
            }
        });
    }

    /// The files of the next change; none when there will be no more.
    fn next(&mut self) -> Option<BTreeSet<PathBuf>> {
        let mut changed = BTreeSet::new();
        while changed.is_empty() {
            let event = self.events.recv().ok()?;
            self.take(event, &mut changed);
        }
        let end = Instant::now() + LONGEST;
        loop {
            match self.events.recv_timeout(QUIET.min(end.saturating_duration_since(Instant::now()))) {
                Ok(event) => self.take(event, &mut changed),
                Err(RecvTimeoutError::Timeout) => return Some(changed),
                Err(RecvTimeoutError::Disconnected) => return None,
            }
        }
    }

    fn take(&mut self, event: notify::Result<notify::Event>, changed: &mut BTreeSet<PathBuf>) {
        // What the system lost may be anything: all is looked at.
        let Ok(event) = event else {
            changed.insert(self.root.clone());
            return;
        };
        if matches!(event.kind, EventKind::Access(_)) {
            return;
        }
        let sources: Vec<PathBuf> = event.paths.into_iter().filter(|path| !self.left_out.covers(path)).collect();
        for path in sources {
            if matches!(event.kind, EventKind::Create(_)) && path.is_dir() {
                // What lies in a new folder came before it was watched.
                let _ = self.watch(&path);
                changed.insert(path);
            } else if !is_by_the_way(&path) {
                changed.insert(path);
            }
        }
    }
}

/// Files that editors and other programs keep beside those that they write.
fn is_by_the_way(path: &Path) -> bool {
    let name = path.file_name().and_then(|n| n.to_str()).unwrap_or_default();
    // Hidden ones are no sources anyway.
    name.ends_with('~') || name.ends_with(".tmp") || name == "4913"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_save_by_rename_and_a_file_in_a_new_folder_are_told() {
        let folder = tempfile::tempdir().expect("made");
        let root = folder.path().canonicalize().expect("there");
        std::fs::write(root.join("Dial.vue"), "a").expect("written");
        std::fs::create_dir_all(root.join("node_modules/vue")).expect("made");
        let (tell, told) = channel::<Woken<()>>();
        Watching::start(&root).expect("watched").into_channel(tell);
        let next = |within: Duration| match told.recv_timeout(within) {
            Ok(Woken::Changed(files)) => files.into_iter().map(|f| f.strip_prefix(&root).expect("below").to_path_buf()).collect::<Vec<_>>(),
            _ => Vec::new(),
        };
        std::fs::write(root.join(".Dial.vue.swp"), "b").expect("written");
        std::fs::write(root.join("node_modules/vue/index.js"), "b").expect("written");
        std::fs::write(root.join("new~"), "b").expect("written");
        std::fs::rename(root.join("new~"), root.join("Dial.vue")).expect("renamed");
        assert_eq!(next(Duration::from_secs(10)), [PathBuf::from("Dial.vue")]);
        std::fs::create_dir(root.join("shelves")).expect("made");
        assert_eq!(next(Duration::from_secs(10)), [PathBuf::from("shelves")]);
        std::fs::write(root.join("shelves/Shelf.vue"), "c").expect("written");
        assert_eq!(next(Duration::from_secs(10)), [PathBuf::from("shelves/Shelf.vue")]);
    }
}
