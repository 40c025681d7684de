//! People of a workshop: what each role may do, names that are told apart, passphrases, how often
//! somebody may guess, when a session ends.
//!
//! Pure rules. The store keeps members and sessions; the pages ask here before they let somebody
//! do something.

mod changed;
mod guessing;
mod name;
mod needs;
mod passphrase;
mod pin;
mod role;
mod session;

pub use changed::Changed;
pub use guessing::{Attempts, GUESSES, WINDOW, wait};
pub use name::{FORMER, NameProblem, author, author_of, looks, name};
pub use needs::Needs;
pub use passphrase::{LEAST_CHARACTERS, MOST_BYTES, Strength, strength};
pub use pin::{PIN_DIGITS, PIN_TRIES, PinProblem, pin};
pub use role::{Deed, Role};
pub use session::{ABSOLUTE, IDLE, REST, ended, ended_at_station, renewed, renewed_at_station};

/// How long an invitation or the address for the first keeper stands.
pub const INVITATION: time::Duration = time::Duration::days(7);

/// Why a change among the members is refused.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum MemberProblem {
    /// Somebody must be able to let others in.
    #[error("one keeper must stay: make somebody else a keeper first")]
    LastKeeper,
    /// The name.
    #[error(transparent)]
    Name(#[from] NameProblem),
    /// There is a member whose name is the same, or looks the same.
    #[error("\"{0}\" is a member already, and the names would look alike: take another")]
    NameTaken(String),
    /// The passphrase is too easily guessed.
    #[error("{0}")]
    Weak(&'static str),
    /// It was used, withdrawn, or its days are over.
    #[error("this invitation was used or is over: ask a keeper for a new one")]
    Invitation,
    /// They left, or were never there.
    #[error("there is no such member any more")]
    Gone,
}

/// Whether the members may change so: of `keepers` that there are, one is changed from `before` to
/// `after`, which is none where they leave.
///
/// # Errors
/// [`MemberProblem::LastKeeper`] when nobody would be left to let others in.
pub fn keeper_stays(
    keepers: usize,
    before: Role,
    after: Option<Role>,
) -> Result<(), MemberProblem> {
    let goes = before == Role::Keeper && after != Some(Role::Keeper);
    match goes && keepers <= 1 {
        true => Err(MemberProblem::LastKeeper),
        false => Ok(()),
    }
}
