//! What is played of both: mounts, what a person does with each control, what a parent changes, and the removal.

use fidelon_core::Value;
use fidelon_core::compare::Area;
use fidelon_core::judge::behaviour;
use fidelon_core::judge::laws::{self, Effort, Runs as _, mount};
use fidelon_core::observation::PhaseSnapshot;
use fidelon_core::plan::Domain;
use fidelon_core::results::Reason;
use fidelon_core::stage::{Combination, Script, Step};
use fidelon_dom::{Document, accessible_name, role_of};
use indexmap::IndexMap;

use super::Both;
use crate::planning::Planned;

/// Combinations in which something is done under normal effort; mounts are compared in all.
const MOST_ACTED_IN: usize = 12;
/// Combinations in which a prop is changed again and again, and how often.
const MOST_TURNED_IN: usize = 3;
const MOST_TURNS: usize = 12;
/// Uses of controls.
const MOST_USES: usize = 16;
/// How often a control is pressed to come to a limit.
const MANY: usize = 12;
/// Uses of what something else opens, and combinations in which that is looked for.
const MOST_OPENED: usize = 8;
const OPENED_IN: usize = 2;
/// What is waited for after an act.
pub(super) const REST: Step = Step::Elapse { milliseconds: 1000 };

/// Which control, and what is done with it: the same in every combination, whatever the control is called there.
#[derive(Debug, Clone, PartialEq, Eq)]
pub(super) struct Use {
    role: String,
    /// Which of the controls of its role it is, from 0.
    nth: usize,
    /// What is done, without what it is done to.
    doing: String,
}

/// Something that is done to both.
#[derive(Debug, Clone)]
pub(super) enum Act {
    Mount,
    /// What a person does, in words and as such: one thing, or what opens another one and then that.
    Person(String, Vec<Use>),
    /// The parent passes another value of this prop than this one.
    Pass(String, Value),
    /// The parent passes these values of this prop one after the other: what a component remembers shows then.
    Turns(String, Vec<Value>),
    /// The parent gives other content for this slot than this.
    Fill(String, Option<String>),
    Remove,
}

/// What can be done with a control of a page.
struct Usable {
    what: Use,
    /// The control's name, and which of those of its role and name it is.
    name: (String, usize),
    words: String,
    steps: Vec<Step>,
}

fn usable(seen: &PhaseSnapshot) -> Vec<Usable> {
    let doc = &seen.tree;
    let mut out: Vec<Usable> = Vec::new();
    for act in behaviour::acts(seen) {
        let Ok(node) = act.at.find_one(doc, Document::ROOT, &[]) else { continue };
        let role = role_of(doc, node).unwrap_or_default().to_owned();
        let name = accessible_name(doc, node);
        let steps: Vec<Step> = act.steps.into_iter().filter(|s| *s != REST).collect();
        let words = steps.iter().map(ToString::to_string).collect::<Vec<_>>().join(", ");
        let doing = words.replace(&act.at.written, "");
        let alike = |u: &&Usable| u.what.role == role && u.what.doing == doing;
        let nth = out.iter().filter(alike).count();
        let same = out.iter().filter(alike).filter(|u| u.name.0 == name).count();
        // A limit shows only when something is done again and again.
        if let [Step::Press { at, .. }] = steps.as_slice() {
            let many = vec![Step::Press { at: at.clone(), times: 1 }; MANY];
            let what = Use { role: role.clone(), nth, doing: format!("{doing} again and again") };
            out.push(Usable { what, name: (name.clone(), same), words: format!("{words} again and again"), steps: many });
        }
        out.push(Usable { what: Use { role, nth, doing }, name: (name, same), words, steps });
    }
    out
}

/// What both play of a use: the control of the other page that has the same name, or else the same place among those of its role. None where
/// one of them has none.
pub(super) fn used(what: &Use, first: &PhaseSnapshot, second: &PhaseSnapshot) -> Option<(Vec<Step>, Vec<Step>)> {
    let own = usable(first).into_iter().find(|u| u.what == *what)?;
    let others = usable(second);
    let alike = |u: &&Usable| u.what.role == what.role && u.what.doing == what.doing;
    let named = others.iter().filter(alike).find(|u| u.name == own.name);
    let other = named.or_else(|| others.iter().find(|u| u.what == *what))?;
    Some((own.steps, other.steps.clone()))
}

impl Act {
    /// What it is, after "other output is rendered".
    pub(super) fn words(&self) -> String {
        match self {
            Self::Mount => "when it is mounted".to_owned(),
            Self::Person(words, _) => format!("after `{words}`"),
            Self::Pass(prop, _) => format!("when the parent changes `{prop}`"),
            Self::Turns(prop, _) => format!("when the parent changes `{prop}` again and again"),
            Self::Fill(slot, _) => format!("when the parent changes the content of the slot `{slot}`"),
            Self::Remove => "when it is removed".to_owned(),
        }
    }

    /// The phases after which it was removed for the first time, and for the last.
    pub(super) fn removals(&self) -> Option<(usize, usize)> {
        matches!(self, Self::Remove).then_some((1, 3))
    }

    /// Whether what differs in this area before the act differs after it too.
    pub(super) fn carries(&self, area: Area) -> bool {
        area == Area::Rendering || area == Area::Parent || area == Area::Timing
    }

    /// The combination whose mount says already what an act from a combination shows after a phase; none for the mount itself.
    pub(super) fn shown_by(&self, combination: &Combination, phase: usize) -> Option<Combination> {
        let with = |prop: &String, value: &Value| {
            let mut out = combination.clone();
            out.props.insert(prop.clone(), value.clone());
            Some(out)
        };
        match self {
            Self::Mount => None,
            Self::Pass(prop, from) if phase == 0 => with(prop, from),
            Self::Turns(prop, values) => match phase.checked_sub(1) {
                Some(turn) => with(prop, &values[turn % values.len()]),
                None => Some(combination.clone()),
            },
            _ => Some(combination.clone()),
        }
    }

    /// What is played in a combination: a change goes from the plainest value to the one of the combination.
    pub(super) fn script(&self, combination: &Combination) -> Option<Script> {
        let phases = match self {
            Self::Mount => vec![vec![REST]],
            // What is used differs from page to page: see `used`.
            Self::Person(..) => return None,
            Self::Remove => vec![vec![Step::Remove], vec![Step::Again], vec![Step::Remove]],
            Self::Pass(prop, from) => {
                let value = combination.props.get(prop).filter(|v| *v != from)?;
                let step = Step::Pass { props: IndexMap::from([(prop.clone(), value.clone())]) };
                vec![vec![step], vec![REST]]
            }
            Self::Turns(prop, values) => {
                let pass = |value: &Value| vec![Step::Pass { props: IndexMap::from([(prop.clone(), value.clone())]) }];
                values.iter().chain(values).take(MOST_TURNS).map(pass).collect()
            }
            Self::Fill(slot, from) => {
                let fill = combination.fills.get(slot).filter(|f| *f != from)?;
                vec![vec![Step::Fill { fills: IndexMap::from([(slot.clone(), fill.clone())]) }]]
            }
        };
        let mut from = combination.clone();
        match self {
            Self::Pass(prop, value) => drop(from.props.insert(prop.clone(), value.clone())),
            Self::Fill(slot, fill) => drop(from.fills.insert(slot.clone(), fill.clone())),
            _ => {}
        }
        Some(Script { phases, ..mount(&from) })
    }

    /// The combinations that it is done in.
    pub(super) fn combinations(&self, all: &[Combination], effort: Effort) -> Vec<Combination> {
        match self {
            Self::Mount => all.to_vec(),
            Self::Turns(..) => laws::telling(all, effort.most(MOST_TURNED_IN)),
            _ => laws::telling(all, effort.most(MOST_ACTED_IN)),
        }
    }
}

/// All that is done, by what the first shows.
pub(super) fn acts(planned: &Planned, both: &mut Both<'_>, effort: Effort) -> Result<Vec<Act>, Reason> {
    let mut out = vec![Act::Mount];
    for combination in laws::telling(&planned.plan.combinations, effort.most(MOST_ACTED_IN)) {
        let Ok(observation) = both.runs_a.play(&mount(&combination)) else { continue };
        let Some(seen) = observation.mount() else { continue };
        for Usable { what, words, .. } in usable(seen) {
            let is_known = out.iter().any(|a| matches!(a, Act::Person(_, known) if *known == [what.clone()]));
            if !is_known && out.len() <= MOST_USES {
                out.push(Act::Person(words, vec![what]));
            }
        }
    }
    let opened = opened(&out, planned, both)?;
    out.extend(opened);
    for domain in &planned.domains {
        match domain {
            Domain::Prop(name, values) if values.len() > 1 => {
                out.push(Act::Pass(name.clone(), values[0].clone()));
                out.push(Act::Turns(name.clone(), values.clone()));
            }
            Domain::Slot(name, fills) if fills.len() > 1 => out.push(Act::Fill(name.clone(), fills[0].clone())),
            Domain::Prop(..) | Domain::Slot(..) => {}
        }
    }
    out.push(Act::Remove);
    Ok(out)
}

/// What can be done with what comes to light when something is used: the options of a list, the entries of a menu.
fn opened(acts: &[Act], planned: &Planned, both: &mut Both<'_>) -> Result<Vec<Act>, Reason> {
    let mut out: Vec<Act> = Vec::new();
    for act in acts {
        let Act::Person(words, uses) = act else { continue };
        for combination in planned.plan.combinations.iter().take(OPENED_IN) {
            let Some((seen, _)) = both.seen(act, combination)? else { continue };
            let (Some(before), Some(after)) = (seen.mount(), seen.phases.get(1)) else { continue };
            let there: Vec<(String, String)> = usable(before).into_iter().map(|u| (u.what.role, u.name.0)).collect();
            for new in usable(after).into_iter().filter(|u| !there.contains(&(u.what.role.clone(), u.name.0.clone()))) {
                let chain = [uses.clone(), vec![new.what]].concat();
                let is_known = out.iter().any(|a| matches!(a, Act::Person(_, known) if *known == chain));
                if !is_known && out.len() < MOST_OPENED {
                    out.push(Act::Person(format!("{words}, {}", new.words), chain));
                }
            }
        }
    }
    Ok(out)
}
