//! How a component is held to the laws: which count for it, what is exempted, and how a broken one is told.

use fidelon_core::contract::Exemption;
use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::judge::clause::{self, Subject};
use fidelon_core::judge::laws::{self, Checked, Effort, Explains, Law, LawContext};
use fidelon_core::plan::Domain;
use fidelon_core::results::Component;
use fidelon_core::stage::{Combination, Expressions, Script, StageError};

use super::broken::{change_of, finding, rule};
use super::budget::Extent;
use super::{ComponentJudge, FEW, Stop, first_look, name_of, state};
use crate::caching_runner::{CachingRunner, Realms};

/// The laws that what is never at rest is held to, in a few combinations.
const OF_THE_RESTLESS: [&str; 2] = ["render/succeeds", "render/settles"];

/// An exemption, and its place among those of the component's folder if the project's file says it.
type Exempting<'a> = (&'a Exemption, Option<usize>);

impl ComponentJudge<'_> {
    /// Holds the component to every law that counts for it.
    pub(super) fn laws(&self, out: &mut Component, runs: &mut CachingRunner<'_>, engine: &mut dyn Expressions) -> Result<(), Stop> {
        let contract = self.held.and_then(|h| h.contract);
        let is_scene = contract.is_some_and(|c| c.scene.is_some());
        let is_page = self.surface.framework.record().is_page;
        // What something that is never at rest shows at the end of its budget is no state.
        if self.restless {
            out.notes.push(format!("it never comes to rest, so only {} were held", OF_THE_RESTLESS.join(" and ")));
        }
        self.budget.begin(runs.spent());
        for law in laws::LAWS
            .iter()
            .filter(|l| (l.of_scenes || !is_scene) && (l.of_pages || !is_page) && (l.name != laws::AGREES || self.compares))
        {
            let by_contract = contract.map_or(&[][..], |c| &c.laws).iter().map(|e| (e, None));
            let by_folder = self.exempt.iter().enumerate().map(|(i, f)| (&f.exemption, Some(i)));
            let exemptions: Vec<Exempting<'_>> = by_contract.chain(by_folder).filter(|(e, _)| e.law == law.name).collect();
            if self.restless && !OF_THE_RESTLESS.contains(&law.name) || self.glance && !first_look::LAWS.contains(&law.name) {
                continue;
            }
            if !self.once {
                self.look_at_exemptions(law, &exemptions, out, runs)?;
            }
            if let Some((off, _)) = exemptions.iter().find(|(e, _)| e.except.is_empty()) {
                out.notes.push(format!("`{}` is off: {}", law.name, off.because));
                continue;
            }
            let except: Vec<String> = exemptions.iter().flat_map(|(e, _)| e.except.iter().cloned()).collect();
            self.believed(out, runs, &mut |out, runs| self.law(law, &except, out, runs, engine))?;
            if self.is_enough(out) {
                return Ok(());
            }
        }
        out.notes.extend(self.budget.notes());
        if !is_scene && !self.restless && !self.glance && !self.once && !self.budget.is_spent() {
            let context = self.context(&self.planned.domains, &self.planned.plan.combinations, &[], &[]);
            // What would take too much is not told.
            match runs.within(self.budget.room(), |runs| laws::unclear(&context, runs)) {
                Err(StageError::Spent) => {}
                unclear => out.notes.extend(unclear?),
            }
            if !self.budget.is_low() {
                // What cannot be played tells nothing here, and costs no verdict.
                let most = self.budget.most_asked(MOST_LOOKED_AT);
                let unseen = runs
                    .within(self.budget.room(), |runs| laws::unseen(&context, &|combination| self.planned.allows(combination), most, runs));
                out.notes.extend(of_unseen(&unseen.unwrap_or_default()));
            }
        }
        Ok(())
    }

    /// Whether exemptions exempt anything: what the law says without them tells.
    fn look_at_exemptions(
        &self,
        law: &Law,
        exemptions: &[Exempting<'_>],
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
    ) -> Result<(), Stop> {
        for (exemption, folder) in exemptions {
            let failures = |except: &[String], runs: &mut CachingRunner<'_>| {
                let context = self.context(&self.planned.domains, &self.planned.plan.combinations, &[], except);
                let said = runs.within(self.budget.room(), |runs| (law.check)(&context, runs))?;
                Ok::<usize, StageError>(said.iter().filter(|c| c.failure.is_some()).count())
            };
            // What cannot be played without the exemption may be why it is there.
            let exempts = match (failures(&[], runs), failures(&exemption.except, runs)) {
                (Ok(without), Ok(with)) => {
                    if exemption.except.is_empty() {
                        without > 0
                    } else {
                        without > with
                    }
                }
                _ => true,
            };
            match (exempts, folder) {
                (true, Some(index)) => self.used.borrow_mut().push(*index),
                (false, None) => out.notes.push(format!("the exemption of `{}` exempts nothing: take it out of the contract", law.name)),
                _ => {}
            }
        }
        Ok(())
    }

    /// What the clauses of the contract play.
    fn scripts(&self, engine: &mut dyn Expressions) -> Vec<Script> {
        let clauses = self.held.and_then(|h| h.contract).map_or(&[][..], |c| &c.clauses);
        let name = name_of(self.surface);
        let subject = Subject { name: &name, surface: self.surface };
        let cases = clauses.iter().flat_map(|c| clause::cases(c, &self.planned.plan.combinations, subject, engine).unwrap_or_default());
        cases.map(|case| case.script).collect()
    }

    /// What a law is told, for these domains and combinations.
    fn context<'m>(
        &'m self,
        domains: &'m [Domain],
        combinations: &'m [Combination],
        scripts: &'m [Script],
        except: &'m [String],
    ) -> LawContext<'m> {
        let is_scene = self.held.and_then(|h| h.contract).is_some_and(|c| c.scene.is_some());
        // A first look at several clauses has seen the other combinations with them, and what becomes of what is passed.
        let many = self.held.and_then(|h| h.contract).is_some_and(|c| first_look::is_many(c.clauses.len()));
        let seen = self.glance && many;
        let combinations = if seen { &combinations[..combinations.len().min(1)] } else { combinations };
        let domains = if seen { &[] } else { domains };
        let edits = &self.planned.edits;
        LawContext {
            surface: self.surface,
            domains,
            combinations,
            scripts,
            except,
            given: &self.planned.given,
            edits,
            children: self.children,
            unused: self.unused,
            network: self.held.and_then(|h| h.contract).and_then(|c| c.surroundings.network.as_deref()),
            application: self.application,
            effort: if self.glance || self.budget.is_low() { Effort::Quick } else { self.effort },
            is_scene,
            is_part: self.is_part,
        }
    }

    /// Whether a law breaks in the same way where nothing was played before; none where that takes too much to be seen.
    fn breaks_afresh(
        &self,
        law: &Law,
        context: &LawContext<'_>,
        shown: &Checked,
        runs: &mut CachingRunner<'_>,
    ) -> Result<Option<bool>, StageError> {
        let about = shown.about.as_ref();
        let of_prop: Vec<Domain> = self.planned.domains.iter().filter(|d| about.is_some_and(|p| d.is_of(p))).cloned().collect();
        let all = &self.planned.plan.combinations;
        let (domains, combinations) = match (law.explains, of_prop.is_empty()) {
            // A law about the changes of a prop goes from the plainest combination to its values.
            (Explains::Change, false) => (&of_prop, &all[..1]),
            // One about all combinations together has to see them all.
            (Explains::Change, true) => (&self.planned.domains, &all[..]),
            // A question about one prop needs no other's values.
            (Explains::Combination, false) if of_prop.iter().all(|d| matches!(d, Domain::Prop(..))) => {
                (&of_prop, std::slice::from_ref(&shown.combination))
            }
            (Explains::Combination, _) if law.beside_changes => (&of_prop, std::slice::from_ref(&shown.combination)),
            (Explains::Combination, _) => (&self.planned.domains, std::slice::from_ref(&shown.combination)),
        };
        let context = self.context(domains, combinations, context.scripts, context.except);
        runs.within(self.budget.room(), |runs| {
            let mut fresh = runs.afresh();
            let said = (law.check)(&context, &mut fresh);
            let spent = fresh.spent();
            runs.spend(spent);
            match said {
                Err(StageError::Spent) => Ok(None),
                said => Ok(Some(said?.iter().any(|c| c.failure.is_some()))),
            }
        })
    }

    fn law(
        &self,
        law: &Law,
        except: &[String],
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
        engine: &mut dyn Expressions,
    ) -> Result<(), Stop> {
        let all = &self.planned.plan.combinations;
        let few = if self.restless { &all[..all.len().min(FEW)] } else { &all[..] };
        let extent = Extent { combinations: few.into(), domains: self.planned.domains.as_slice().into() };
        let scripts = if law.name == laws::AGREES { self.scripts(engine) } else { Vec::new() };
        let ask = |runs: &mut CachingRunner<'_>| {
            self.budget.ask(law.name, &extent, runs, |part, runs| {
                runs.ahead(&part.combinations.iter().map(laws::mount).collect::<Vec<_>>());
                (law.check)(&self.context(&part.domains, &part.combinations, &scripts, except), runs)
            })
        };
        let tell = |(checked, part): (Vec<Checked>, Extent<'_>), out: &mut Component, runs: &mut CachingRunner<'_>| {
            let checked = self.without_unset(checked, out);
            self.tell_law(law, self.context(&part.domains, &part.combinations, &scripts, except), &checked, out, runs)
        };
        let Some(asked) = ask(runs)? else { return Ok(()) };
        if !(law.told_once && runs.are_shared() && asked.0.iter().any(|c| c.failure.is_some())) {
            return tell(asked, out, runs);
        }
        // Once it broke it is checked where no module remembers what it told before.
        let before = runs.switch(Realms::Fresh);
        let told = ask(runs).map_err(Stop::from).and_then(|asked| asked.map_or(Ok(()), |asked| tell(asked, out, runs)));
        runs.switch(before);
        told
    }

    /// What a law says, but for what fails because the application has set nothing up: that is a note.
    fn without_unset(&self, mut checked: Vec<Checked>, out: &mut Component) -> Vec<Checked> {
        checked.retain(|c| {
            let Some(failure) = &c.failure else { return true };
            let text = failure.actual.as_deref().unwrap_or_default();
            let Some(missing) = state::unset(self.root, failure.place.as_ref(), text) else { return true };
            let note = format!("it misses something around it: {} ({})", missing.said, missing.remedy);
            if !out.notes.contains(&note) {
                out.notes.push(note);
            }
            false
        });
        checked
    }

    fn tell_law(
        &self,
        law: &Law,
        context: LawContext<'_>,
        checked: &[Checked],
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
    ) -> Result<(), Stop> {
        out.laws.push(rule(None, Some(law.name.to_owned()), checked));
        // A law about props, slots or events is told one by one: each is a fault of its own.
        let mut abouts: Vec<Option<String>> = Vec::new();
        for c in checked {
            if !abouts.contains(&c.about) {
                abouts.push(c.about.clone());
            }
        }
        for about in abouts {
            let room = self.budget.room_to_explain(runs);
            // A case that broke about nothing held about everything.
            let of = checked.iter().filter(|c| c.about == about || (c.about.is_none() && c.failure.is_none()));
            let of: Vec<Checked> = of.cloned().collect();
            // A question about one prop needs no other's changes.
            let of_about: Vec<Domain> = context.domains.iter().filter(|d| about.as_ref().is_some_and(|a| d.is_of(a))).cloned().collect();
            let domains = if law.beside_changes { &of_about[..] } else { context.domains };
            // What breaks as soon as it is mounted needs no changes at all.
            let broken = of.iter().find(|c| c.failure.is_some()).filter(|_| law.explains == Explains::Combination);
            let breaks_at_once = broken.is_some_and(|broken| {
                let alone = LawContext { combinations: std::slice::from_ref(&broken.combination), domains: &[], ..context };
                let said = runs.within(room, |runs| (law.check)(&alone, runs));
                said.is_ok_and(|said| said.iter().any(|c| c.about == about && c.failure.is_some()))
            });
            let domains = if breaks_at_once { &[] } else { domains };
            // Nor does one about a slot need the other slots.
            let is_slot = |name: &&String| self.surface.slots.iter().any(|s| s.name == **name);
            let of_slot = about.as_ref().filter(is_slot);
            let others = self.surface.slots.iter().map(|s| &s.name).filter(|name| of_slot.is_some_and(|slot| slot != *name));
            let except: Vec<String> = context.except.iter().chain(others).cloned().collect();
            let explained = match law.explains {
                Explains::Combination => runs.within(room, |runs| {
                    self.explained(&of, &mut |combination| {
                        let context = LawContext { combinations: std::slice::from_ref(combination), domains, except: &except, ..context };
                        let said = (law.check)(&context, runs)?;
                        // Where nothing is said about it, it holds. A law may change a prop of what it is given: what it says is said of that.
                        let of_it = || said.iter().filter(|c| c.about == about);
                        let found = of_it().find(|c| c.combination == *combination).or_else(|| of_it().find(|c| c.failure.is_some()));
                        let failure = found.or_else(|| of_it().next()).and_then(|c| c.failure.clone());
                        let first = said.first();
                        let events = found.or(first).map_or_else(Vec::new, |c| c.events.clone());
                        Ok(first.map(|_| Checked { combination: combination.clone(), failure, events, about: about.clone() }))
                    })
                })?,
                Explains::Change => change_of(&of, &context.combinations[0]),
            };
            let Some((explained, shown)) = explained else { continue };
            let found = finding(self.surface, (law.name, RuleKind::Law), &of, explained, &shown);
            // What another finding tells already is believed with it: a realm of its own for each would cost more than all that was played.
            if found.as_ref().is_some_and(|found| told_already(found, law.beneath, &mut out.findings)) {
                continue;
            }
            let alone = LawContext { except: &except, ..context };
            let afresh = if self.is_in_doubt(runs) { self.breaks_afresh(law, &alone, &shown, runs)? } else { Some(true) };
            match afresh {
                Some(true) => {}
                Some(false) if !self.budget.is_costly() => return Err(Stop::Carried),
                // Where a realm costs as much as many cases, what only a used one shows is left out, and the rest is believed.
                _ => {
                    self.budget.leave_out();
                    continue;
                }
            }
            out.findings.extend(found);
        }
        Ok(())
    }
}

/// Scripts that are played to tell what changes nothing.
const MOST_LOOKED_AT: usize = 2_000;

/// That some props or slots change nothing, in words.
fn of_unseen(names: &[String]) -> Option<String> {
    let all = names.iter().map(|name| format!("`{name}`")).collect::<Vec<_>>().join(", ");
    let changes = if names.len() == 1 { "changes" } else { "change" };
    (!names.is_empty()).then(|| {
        format!("{all} {changes} nothing that a parent or a person can notice, with the values that were tried: give others under `props:` in a contract")
    })
}

/// Whether what broke is what another finding tells already, of another prop or by another law: the same is missing, the same is there, or
/// the law that this one is `beneath` broke for the same prop. It is named there.
fn told_already(found: &Finding, beneath: Option<&str>, findings: &mut [Finding]) -> bool {
    let apart = apart(found);
    let is_weaker = |first: &Finding| beneath == Some(first.rule.as_str()) && found.about.is_some() && first.about == found.about;
    let is_same = |first: &Finding| apart.is_some() && self::apart(first) == apart;
    // What a slot hands over is as stale as what is shown, by the same prop.
    let changed =
        found.failure.message.strip_prefix("after `").and_then(|rest| rest.split_once("` changed the slot ")).map(|(prop, _)| prop);
    let is_of_change = |first: &Finding| changed.is_some() && first.rule == "prop/live" && first.about.as_deref() == changed;
    let is_it = |first: &&mut Finding| is_weaker(first) || is_same(first) || is_of_change(first);
    let Some(first) = findings.iter_mut().find(is_it) else { return false };
    let what = match found.about.as_deref() {
        Some(about) if first.rule == found.rule => format!("`{about}`"),
        Some(about) => format!("`{about}` in {}", found.rule),
        None => found.rule.clone(),
    };
    let message = &mut first.failure.message;
    *message = match message.strip_suffix(')').and_then(|m| m.split_once(SAME)) {
        None => format!("{message} ({SAME}{what})"),
        Some((said, names)) if names.split(", ").count() < MOST_NAMED => format!("{said}{SAME}{names}, {what})"),
        Some((said, names)) => {
            let (named, more) = names.split_once(MORE).unwrap_or((names, "0"));
            format!("{said}{SAME}{named}{MORE}{} more)", more.trim_end_matches(" more").parse().unwrap_or(0) + 1)
        }
    };
    true
}

/// What of the shown markup is missing and what is too much, word by word: what both sides show, as the prop that was changed, is no part of
/// the difference.
fn apart(found: &Finding) -> Option<(Vec<String>, Vec<String>)> {
    let whole = |text: &Option<String>| text.as_ref().filter(|t| t.contains('<')).cloned();
    let words =
        |text: String| text.split(|c: char| c.is_whitespace() || c == '>').filter(|w| !w.is_empty()).map(str::to_owned).collect::<Vec<_>>();
    let (expected, actual) = (words(whole(&found.failure.expected)?), words(whole(&found.failure.actual)?));
    let without = |all: &[String], other: &[String]| {
        let mut rest = other.to_vec();
        let is_own = |word: &&String| rest.iter().position(|r| r == *word).map(|i| rest.swap_remove(i)).is_none();
        all.iter().filter(is_own).cloned().collect::<Vec<_>>()
    };
    let (missing, added) = (without(&expected, &actual), without(&actual, &expected));
    // Words in another order differ by no word.
    Some(if missing.is_empty() && added.is_empty() { (expected, actual) } else { (missing, added) })
}

/// Names of what breaks in the same way that are listed.
const MOST_NAMED: usize = 6;
const MORE: &str = " and ";

/// Begins the names of what breaks in the same way.
const SAME: &str = "the same of ";
