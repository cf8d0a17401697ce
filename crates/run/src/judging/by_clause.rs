//! How a component is held to the clauses of its contract.

use fidelon_core::contract::{self, Fault};
use fidelon_core::finding::{Finding, RuleKind};
use fidelon_core::judge::check::in_words;
use fidelon_core::judge::clause::{self, Standing, Subject};
use fidelon_core::judge::laws::{Checked, Runs as _};
use fidelon_core::results::{Component, FileFault};
use fidelon_core::stage::{Expressions, StageError};
use fidelon_source::{Place, place_of};

use super::broken::{finding, rule};
use super::no_verdict::{expression_fault, faulty};
use super::{ComponentJudge, ContractSource, FEW, Stop, first_look, name_of};
use crate::caching_runner::{CachingRunner, Realms};
use crate::survey::in_file;

impl ComponentJudge<'_> {
    /// Holds the component to one clause.
    pub(super) fn clause(
        &self,
        (index, clause): (usize, &contract::Clause),
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
        engine: &mut dyn Expressions,
        faults: &mut Vec<FileFault>,
    ) -> Result<(), Stop> {
        let Some(held) = self.held else { return Ok(()) };
        let mut cases = match clause::cases(
            clause,
            &self.planned.plan.combinations,
            Subject { name: &name_of(self.surface), surface: self.surface },
            engine,
        ) {
            Ok(cases) => cases,
            Err(fault) => {
                faults.push(expression_fault(held, &fault));
                out.reason = Some(faulty());
                return Ok(());
            }
        };
        if cases.is_empty() && (clause.implied || self.glance) {
            return Ok(());
        }
        if cases.is_empty() {
            let fault = Fault::new(clause.span, "this clause applies to no combination")
                .help("its `where` is true in none of the plan: check it, or add values under `props:`");
            faults.push(in_file(held.file, held.text, fault));
            out.reason = Some(faulty());
            return Ok(());
        }
        if self.glance {
            // A realm of its own for each case is no first look.
            if asks_for_warnings(&cases) {
                return Ok(());
            }
            cases = first_look::cases(cases, index, held.contract.map_or(1, |c| c.clauses.len()));
        }
        // Frameworks warn of a thing once and remember it in their modules: what is promised of warnings is seen in fresh realms alone.
        let before = if asks_for_warnings(&cases) { runs.switch(Realms::Fresh) } else { runs.switch(runs.realms()) };
        let judged = self.judge_cases(clause, &cases, held, out, runs, engine);
        runs.switch(before);
        judged
    }

    fn judge_cases(
        &self,
        clause: &contract::Clause,
        cases: &[clause::Case],
        held: ContractSource<'_>,
        out: &mut Component,
        runs: &mut CachingRunner<'_>,
        engine: &mut dyn Expressions,
    ) -> Result<(), Stop> {
        let cases = if self.restless { &cases[..cases.len().min(FEW)] } else { cases };
        runs.ahead(&cases.iter().map(|case| case.script.clone()).collect::<Vec<_>>());
        let mut checked = Vec::new();
        for case in cases {
            checked.push(check_case(case, &self.standing, runs)?);
            if self.once && checked.last().is_some_and(|c| c.failure.is_some()) {
                break;
            }
        }
        let name = name_of(self.surface);
        let subject = Subject { name: &name, surface: self.surface };
        let explained = self.explained(&checked, &mut |combination| {
            // What the clause holds fixed cannot be changed to see what comes of it.
            let Ok(cases) = clause::cases(clause, std::slice::from_ref(combination), subject, engine) else { return Ok(None) };
            let case = cases.iter().find(|c| c.combination == *combination);
            case.map(|case| check_case(case, &self.standing, runs)).transpose()
        })?;
        if let Some((_, shown)) = &explained
            && self.is_in_doubt(runs)
            && let Ok(cases) = clause::cases(clause, std::slice::from_ref(&shown.combination), subject, engine)
            && let Some(case) = cases.first()
            && clause::judge(case, &self.standing, &runs.afresh().play(&case.script)?).is_empty()
        {
            return Err(Stop::Carried);
        }
        if let Some((_, shown)) = &explained
            && let Ok(cases) = clause::cases(clause, std::slice::from_ref(&shown.combination), subject, engine)
        {
            self.broke.borrow_mut().extend(cases.into_iter().next().map(|case| (clause.name.clone(), case)));
        }
        let (line, column) = place_of(held.text, clause.span.start);
        let written = Place { file: held.file.to_owned(), line, column };
        out.clauses.push(rule(Some(clause.name.clone()), None, &checked));
        let found = explained.and_then(|(e, shown)| finding(self.surface, (&clause.name, RuleKind::Clause), &checked, e, &shown));
        out.findings.extend(found.map(|f| Finding { written: Some(written), ..f }));
        Ok(())
    }
}

fn asks_for_warnings(cases: &[clause::Case]) -> bool {
    cases.iter().flat_map(|c| c.checks.iter().flatten()).any(|check| matches!(check.subject, contract::Subject::Warned))
}

fn check_case(case: &clause::Case, standing: &Standing, runs: &mut CachingRunner<'_>) -> Result<Checked, StageError> {
    let observation = runs.play(&case.script)?;
    let failure = clause::judge(case, standing, &observation).into_iter().next();
    let events = observation.phases.iter().flat_map(|p| &p.events).map(in_words).collect();
    Ok(Checked { combination: case.combination.clone(), failure, events, about: None })
}
