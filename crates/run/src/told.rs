//! What a framework knows of a component at run time completes what its source told.

use fidelon_core::contract::{Contract, adapted};
use fidelon_core::scene::Scene;
use fidelon_core::stage::Stage;

use crate::survey::Job;

/// The job with its surface completed, where the source did not tell all and the framework knows more.
pub(crate) fn completed(job: &Job, contract: Option<&Contract>, stage: &mut dyn Stage) -> Option<Job> {
    let alone = job.scene.state.is_none() && job.scene.parts.len() == 1;
    if !job.surface.open || !alone {
        return None;
    }
    // What cannot be opened says so when it is judged.
    let opened = stage.open(&job.scene).ok()?;
    let declared = opened.declared.into_iter().next().flatten()?;
    let surface = job.surface.completed(&declared);
    if surface == job.surface {
        return None;
    }
    let mut scene: Scene = job.scene.clone();
    scene.parts[0].surface = contract.map_or_else(|| surface.clone(), |c| adapted(&surface, c));
    Some(Job { surface: scene.parts[0].surface.clone(), scene, ..job.clone() })
}
