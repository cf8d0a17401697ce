//! Which part of a run schedulers ask for, by the variables that they set.

use anyhow::{Context as _, bail};
use fidelon_run::Portion;

use crate::args::PartArg;

/// The part that is meant.
pub fn portion(part: PartArg) -> anyhow::Result<Portion> {
    match part {
        PartArg::Given(portion) => Ok(portion),
        PartArg::Auto(of) => scheduled(of, &|name| std::env::var(name).ok()),
    }
}

/// A job that runs many times over: the variable with its number, the number of the first, the variable with the count.
const SCHEDULERS: [(&str, &str, First, &str); 3] = [
    ("GitLab", "CI_NODE_INDEX", First::Is(1), "CI_NODE_TOTAL"),
    ("Slurm", "SLURM_ARRAY_TASK_ID", First::In("SLURM_ARRAY_TASK_MIN"), "SLURM_ARRAY_TASK_COUNT"),
    // The count of an indexed job is known to its author alone.
    ("Kubernetes", "JOB_COMPLETION_INDEX", First::Is(0), ""),
];

#[derive(Clone, Copy)]
enum First {
    Is(usize),
    In(&'static str),
}

fn scheduled(of: Option<usize>, variable: &dyn Fn(&str) -> Option<String>) -> anyhow::Result<Portion> {
    for (who, index, first, count) in SCHEDULERS {
        let Some(written) = variable(index) else { continue };
        let number = |name: &str, text: &str| text.trim().parse::<usize>().with_context(|| format!("{name}={text} is no number"));
        let at = number(index, &written)?;
        let first = match first {
            First::Is(first) => first,
            First::In(name) => variable(name).map_or(Ok(0), |text| number(name, &text))?,
        };
        let of = match (of, variable(count)) {
            (Some(of), _) => of,
            (None, Some(text)) => number(count, &text)?,
            (None, None) => bail!("{who} does not say how many parts there are: write --part auto/5 for five"),
        };
        let number = (at + 1).saturating_sub(first);
        if number == 0 || number > of {
            bail!("{index}={at} is no part of {of} that start at {first}");
        }
        return Ok(Portion { number, of });
    }
    let names: Vec<&str> = SCHEDULERS.iter().map(|(_, index, ..)| *index).collect();
    bail!("no scheduler set a number ({}): write --part 2/5", names.join(", "))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn numbers_of_schedulers_count_from_where_each_does() {
        let told = |of: Option<usize>, set: &[(&str, &str)]| {
            let variable = |name: &str| set.iter().find(|(n, _)| *n == name).map(|(_, v)| (*v).to_owned());
            scheduled(of, &variable).map(|p| (p.number, p.of)).map_err(|e| e.to_string())
        };
        assert_eq!(told(None, &[("CI_NODE_INDEX", "1"), ("CI_NODE_TOTAL", "3")]), Ok((1, 3)));
        assert_eq!(
            told(None, &[("SLURM_ARRAY_TASK_ID", "12"), ("SLURM_ARRAY_TASK_MIN", "10"), ("SLURM_ARRAY_TASK_COUNT", "4")]),
            Ok((3, 4))
        );
        assert_eq!(told(Some(5), &[("JOB_COMPLETION_INDEX", "4")]), Ok((5, 5)));
        assert!(told(None, &[("JOB_COMPLETION_INDEX", "4")]).is_err_and(|e| e.contains("--part auto/5")));
        assert!(told(Some(4), &[("JOB_COMPLETION_INDEX", "4")]).is_err_and(|e| e.contains("no part of 4")));
        assert!(told(None, &[("CI_NODE_INDEX", "one"), ("CI_NODE_TOTAL", "3")]).is_err_and(|e| e.contains("CI_NODE_INDEX=one")));
        assert!(told(None, &[]).is_err_and(|e| e.contains("no scheduler")));
    }
}
