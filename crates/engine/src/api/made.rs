//! Functions that scripts make of text, under the name that the text gives itself (ECMA-426 §11, `sourceURL`).

use rquickjs::context::EvalOptions;
use rquickjs::{Ctx, Value};

use super::Natives;

/// Texts whose maps are kept, at most: templates that are compiled as a page runs are made of one each.
const MOST_KEPT: usize = 512;
/// Bytes of one map, at most: all together stay small beside what a component may use.
const MOST_BYTES: usize = 64 << 10;

pub(super) fn register(natives: &mut Natives<'_, '_>) -> rquickjs::Result<()> {
    natives.add("evaluated", evaluated)?;
    let host = natives.host.clone();
    natives.add("keepMap", move |name: String, map: String| {
        let mut kept = host.maps.borrow_mut();
        if kept.len() < MOST_KEPT && map.len() < MOST_BYTES {
            kept.insert(name, map.into());
        }
    })
}

/// The value of a script that is called `name` in stacks.
fn evaluated<'js>(ctx: Ctx<'js>, code: String, name: String) -> rquickjs::Result<Value<'js>> {
    let mut options = EvalOptions::default();
    options.strict = false;
    options.filename = Some(name);
    ctx.eval_with_options(code, options)
}
