//! What a call is for, by how it is written: sending an event, cleaning up, working something out again when it changes.

use oxc::ast::ast::{Argument, CallExpression, Expression};

/// What a call does.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub(crate) enum Purpose {
    /// It sends an event, whose payload begins with this argument.
    Event(usize),
    /// It takes something back.
    Cleanup,
    /// It gives what follows from its function, whenever that reads something new.
    Derived,
    /// It does something whenever its list of dependencies changes, which is this argument.
    Dependencies(usize),
    /// It declares something to a compiler or to a framework, and is no step of the work.
    Declaring,
    /// Something else.
    Other,
}

/// What clears up: functions and methods of the platform and of several frameworks.
const CLEANUPS: [&str; 14] = [
    "removeEventListener",
    "clearInterval",
    "clearTimeout",
    "cancelAnimationFrame",
    "disconnect",
    "unobserve",
    "unsubscribe",
    "abort",
    "revokeObjectURL",
    "onUnmounted",
    "onBeforeUnmount",
    "onScopeDispose",
    "onCleanup",
    "onDestroy",
];

/// The name that is called, and whether it is a member of something.
pub(crate) fn callee_name<'a>(callee: &'a Expression<'_>) -> Option<(&'a str, bool)> {
    match callee {
        Expression::Identifier(id) => Some((id.name.as_str(), false)),
        Expression::StaticMemberExpression(member) => Some((member.property.name.as_str(), true)),
        Expression::ChainExpression(chain) => match &chain.expression {
            oxc::ast::ast::ChainElement::StaticMemberExpression(member) => Some((member.property.name.as_str(), true)),
            _ => None,
        },
        Expression::TSNonNullExpression(inner) => callee_name(&inner.expression),
        Expression::ParenthesizedExpression(inner) => callee_name(&inner.expression),
        _ => None,
    }
}

/// True for `onFire`: a function that a parent passes to hear of something.
pub(crate) fn is_callback(name: &str) -> bool {
    name.strip_prefix("on").is_some_and(|rest| rest.starts_with(char::is_uppercase)) || name.starts_with("on:")
}

pub(crate) fn purpose(call: &CallExpression<'_>) -> Purpose {
    let Some((name, is_member)) = callee_name(&call.callee) else { return Purpose::Other };
    if CLEANUPS.contains(&name) {
        return Purpose::Cleanup;
    }
    let names_it = matches!(call.arguments.first(), Some(Argument::StringLiteral(_) | Argument::TemplateLiteral(_)));
    match name {
        // An output of a class is sent by its payload, a function that sends any event by its name first.
        "emit" | "$emit" => return Purpose::Event(usize::from(names_it || !is_member)),
        "dispatch" if names_it => return Purpose::Event(1),
        "dispatchEvent" => return Purpose::Event(usize::MAX),
        _ => {}
    }
    if is_callback(name) && !is_hook(name) {
        return Purpose::Event(0);
    }
    match name {
        "computed" | "createMemo" if call.arguments.len() == 1 => Purpose::Derived,
        "useMemo" | "useCallback" | "useEffect" | "useLayoutEffect" | "useInsertionEffect" => Purpose::Dependencies(1),
        "useImperativeHandle" => Purpose::Dependencies(2),
        _ if name.starts_with("define") || is_hook(name) => Purpose::Declaring,
        "super" | "log" | "warn" | "error" | "debug" | "info" | "withDefaults" | "forwardRef" | "memo" => Purpose::Declaring,
        _ => Purpose::Other,
    }
}

/// Functions that register something with a framework at its start.
fn is_hook(name: &str) -> bool {
    const HOOKS: [&str; 10] = [
        "onMounted",
        "onMount",
        "onBeforeMount",
        "onUpdated",
        "onBeforeUpdate",
        "onActivated",
        "onDeactivated",
        "onErrorCaptured",
        "onServerPrefetch",
        "onWatcherCleanup",
    ];
    HOOKS.contains(&name) || name.strip_prefix("use").is_some_and(|rest| rest.starts_with(char::is_uppercase))
}
