//! The line-up of a practice case, when it is to be seen.

use crate::pages::parts::line_up::{LineUpView, view};
use crate::urls;
use suspect_core::evidence::Facts;
use suspect_core::knowledge::Knowledge;
use suspect_core::ranking::rank;

/// The line-up of what is known.
pub fn of(k: &Knowledge, facts: &Facts) -> LineUpView {
    view(k, &rank(k, facts), None, None, urls::suspect)
}
