//! Who may do what: one table.

use crate::identified::identified;

identified! {
    /// What somebody is in the workshop. Each may do all that those before may.
    pub enum Role {
        /// Reads.
        Visitor = "visitor",
        /// Opens cases, tells, photographs.
        Member = "member",
        /// Checks, and easy fixes.
        Volunteer = "volunteer",
        /// Everything at machines; lifts stops, closes cases, rates.
        Technician = "technician",
        /// People, stations, backup.
        Keeper = "keeper",
    }
}

identified! {
    /// What somebody may want to do.
    pub enum Deed {
        /// Look at pages.
        Read = "read",
        /// Open a case, tell, answer, photograph, note.
        Tell = "tell",
        /// Do checks and easy fixes, upkeep, trials, the bench.
        Work = "work",
        /// Involved fixes, and whatever changes a machine or what is kept of it.
        Machine = "machine",
        /// Lift a stop.
        LiftStop = "lift-stop",
        /// Close a case or open it again.
        Close = "close",
        /// What a minute is worth, what is learned from.
        Rate = "rate",
        /// Members, stations, what leaves or comes in as a whole.
        Keep = "keep",
    }
}

impl Deed {
    /// The first role that may.
    pub const fn least(self) -> Role {
        match self {
            Deed::Read => Role::Visitor,
            Deed::Tell => Role::Member,
            Deed::Work => Role::Volunteer,
            Deed::Machine | Deed::LiftStop | Deed::Close | Deed::Rate => Role::Technician,
            Deed::Keep => Role::Keeper,
        }
    }

    /// What it is, after "may".
    pub const fn words(self) -> &'static str {
        match self {
            Deed::Read => "read",
            Deed::Tell => "open cases, tell and photograph",
            Deed::Work => "do checks and easy fixes",
            Deed::Machine => "change machines and do involved fixes",
            Deed::LiftStop => "lift stops",
            Deed::Close => "close cases",
            Deed::Rate => "set rates and what is learned from",
            Deed::Keep => "look after members, stations and backups",
        }
    }
}

impl Role {
    /// Whether somebody of this role may do it.
    pub fn may(self, deed: Deed) -> bool {
        self >= deed.least()
    }

    /// What it is called.
    pub const fn words(self) -> &'static str {
        match self {
            Role::Visitor => "visitor",
            Role::Member => "member",
            Role::Volunteer => "volunteer",
            Role::Technician => "technician",
            Role::Keeper => "keeper",
        }
    }
}
