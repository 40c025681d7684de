//! The causes of each hypothesis, laid out so that the tables are read in a row.

use super::Hypothesis;

/// Pairs of one cause with many that follow one another: (i, j), (i, j + 1), … Nearly all pairs are
/// possible, so runs are long and the tables are read in a row.
#[derive(Debug, Clone)]
pub(crate) struct Run {
    pub first: u16,
    pub from: u16,
    pub many: u16,
}

/// The causes of each hypothesis in the order of [`super::priors`]: `unlisted`, causes alone,
/// pairs.
#[derive(Debug, Clone)]
pub(crate) struct Members {
    pub ones: Vec<u16>,
    pub runs: Vec<Run>,
    /// How many pairs the runs hold.
    pub pairs: usize,
}

impl Members {
    pub fn of(hypotheses: &[Hypothesis]) -> Self {
        let mut members = Self {
            ones: Vec::new(),
            runs: Vec::new(),
            pairs: 0,
        };
        for h in hypotheses {
            match *h {
                Hypothesis::Unlisted => {}
                Hypothesis::One(c) => members.ones.push(c.0),
                Hypothesis::Two(i, j) => {
                    members.pairs += 1;
                    match members.runs.last_mut() {
                        Some(run) if run.first == i.0 && run.from + run.many == j.0 => {
                            run.many += 1;
                        }
                        _ => members.runs.push(Run {
                            first: i.0,
                            from: j.0,
                            many: 1,
                        }),
                    }
                }
            }
        }
        members
    }
}
