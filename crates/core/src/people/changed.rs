//! What may be changed among members: each is written down.

use crate::identified::identified;

identified! {
    /// What was changed.
    pub enum Changed {
        /// Somebody was invited; the role.
        Invited = "invited",
        /// An invitation was taken.
        Joined = "joined",
        /// Another role; from, to.
        Role = "role",
        /// A link for a new passphrase.
        Link = "link",
        /// A new passphrase.
        Passphrase = "passphrase",
        /// All sessions ended.
        SignedOut = "signed-out",
        /// They left.
        Left = "left",
        /// A station was registered; its name.
        Station = "station",
        /// A station was taken out of use; its name.
        Revoked = "revoked",
    }
}
