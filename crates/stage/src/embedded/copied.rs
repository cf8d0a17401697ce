//! What a stage is asked whose process is copied for what it plays.

use fidelon_core::stage::Dependencies;
use fidelon_loader::Importing;

use super::Embedded;

impl Embedded {
    /// Whether one realm may be copied for all cases: a page of a server is asked for anew by each.
    pub(crate) fn may_be_copied(&self) -> bool {
        self.open.as_ref().is_some_and(|open| !open.scene.parts.iter().any(|part| part.surface.is_served()))
    }

    /// Sees that nothing was played in the realm of what is open; whether that is so now.
    pub(crate) fn lie_unused(&mut self) -> bool {
        let Some(open) = self.open.take() else { return false };
        if open.cases == 0 && !open.realm.is_broken() {
            self.open = Some(open);
            return true;
        }
        let scene = open.scene.clone();
        // What cannot be opened again is told by who asks for it next.
        match self.start(&scene) {
            Ok(new) => self.open = Some(new),
            Err(_) => self.open = Some(open),
        }
        self.open.as_ref().is_some_and(|open| open.cases == 0)
    }

    /// How much what is open has reached.
    pub(crate) fn count_reached(&self) -> usize {
        self.loader.borrow().count_reached()
    }

    /// What was reached elsewhere counts as reached here.
    pub(crate) fn reach(&mut self, elsewhere: Dependencies) {
        let led = elsewhere.led.into_iter().map(|it| {
            let importing = if it.required { Importing::CommonJs } else { Importing::Module };
            ((it.from, it.specifier, importing), it.to)
        });
        self.loader.borrow().reached_elsewhere(elsewhere.files, led);
    }
}
