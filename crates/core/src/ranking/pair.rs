//! Likelihoods of two causes together.

use super::{Hypothesis, Seen};
use crate::knowledge::{
    CauseId, FLOOR, FindingId, FixId, Knowledge, MOST_STATES, fold, half_mended, results_of,
    tried_likelihoods,
};

/// P(absent) when two linked causes act: noisy-or over the background.
pub(super) fn both_absent(a: f64, b: f64, background: f64) -> f64 {
    (a * b / background).clamp(FLOOR, 1.0 - FLOOR)
}

/// P(state | pair) for every state of a finding: the one linked cause speaks alone; two speak by
/// noisy-or, or by the mean. A try also hangs on what else was `seen`.
pub(crate) fn pair_states(
    knowledge: &Knowledge,
    seen: &Seen,
    f: FindingId,
    i: CauseId,
    j: CauseId,
    out: &mut [f64; MOST_STATES],
) {
    let finding = knowledge.finding(f);
    if let Some(fix) = finding.also_fix {
        let pair = Hypothesis::Two(i, j);
        let table = tried_of(knowledge, seen, pair, fix, |c| knowledge.cure(fix, c));
        let folded = fold(table, &results_of(finding));
        out[..folded.len()].copy_from_slice(&folded);
        return;
    }
    for (s, p) in out[..finding.states.len()].iter_mut().enumerate() {
        *p = pair_of_finding(knowledge, seen, f, (i, j), s);
    }
}

/// P(state | pair) of a finding that is no try.
pub(super) fn pair_of_finding(
    knowledge: &Knowledge,
    seen: &Seen,
    f: FindingId,
    (i, j): (CauseId, CauseId),
    state: usize,
) -> f64 {
    let finding = knowledge.finding(f);
    let (a, b) = (seen.states(knowledge, i, f), seen.states(knowledge, j, f));
    match (knowledge.table.linked(i, f), knowledge.table.linked(j, f)) {
        (true, true) if finding.presence() => {
            let absent = both_absent(a[0], b[0], finding.states[0].background);
            if state == 0 { absent } else { 1.0 - absent }
        }
        (true, true) => (a[state] + b[state]) / 2.0,
        (true, false) => a[state],
        _ => b[state],
    }
}

/// Chances of the results of a try of a fix for any hypothesis, each cause cured with its own
/// `chance`.
pub(crate) fn tried_of(
    knowledge: &Knowledge,
    seen: &Seen,
    h: Hypothesis,
    fix: FixId,
    chance: impl Fn(CauseId) -> f64,
) -> [f64; 4] {
    let by_chance = knowledge.fix(fix).by_chance;
    match h {
        Hypothesis::Unlisted => tried_likelihoods(&[], by_chance),
        Hypothesis::One(c) => tried_likelihoods(&[chance(c)], by_chance),
        Hypothesis::Two(i, j) => match (chance(i), chance(j)) {
            (0.0, 0.0) => tried_likelihoods(&[], by_chance),
            (a, 0.0) => half_mended(a, seen.shown_by(knowledge, i, j)),
            (0.0, b) => half_mended(b, seen.shown_by(knowledge, j, i)),
            (a, b) => tried_likelihoods(&[a, b], by_chance),
        },
    }
}
