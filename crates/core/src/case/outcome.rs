//! How a case may end, and other answers that events carry.

use crate::identified::identified;

identified! {
    /// How a case ended.
    pub enum Outcome {
        /// The fault is gone and a print proved it.
        FixedAndVerified = "fixed-and-verified",
        /// The fault is believed gone; no print proved it.
        BelievedFixed = "believed-fixed",
        /// The fault is weaker and that will do.
        Improved = "improved",
        /// The fault stays, the print succeeds another way.
        WorkedAround = "worked-around",
        /// An ordinary trait of the process.
        NotAFault = "not-a-fault",
        /// Left unsolved.
        Unsolved = "unsolved",
        /// There was no such case: kept, counted nowhere.
        OpenedByError = "opened-by-error",
        /// It was the same trouble as another open case, which goes on: counted nowhere.
        Joined = "joined",
    }
}

impl Outcome {
    /// Whether something is said to have mended it, so that it may come undone.
    pub fn mended(self) -> bool {
        matches!(
            self,
            Outcome::FixedAndVerified | Outcome::BelievedFixed | Outcome::Improved
        )
    }
}

identified! {
    /// Why a step is not done now.
    pub enum PutOff {
        /// Not now.
        NotNow = "not-now",
        /// Begun, and could not be finished.
        Unfinished = "unfinished",
        /// It broke off half-way: something may still be apart.
        BrokeOff = "broke-off",
        /// Done, and the result is unclear.
        Unclear = "unclear",
    }
}

identified! {
    /// Whether the fix of a closed case held. A return is an event of its own.
    pub enum HeldAnswer {
        /// The fault has not come back.
        Held = "held",
        /// Nobody can say.
        CannotSay = "cannot-say",
    }
}
