//! Who is at the screen, and what they may do: sessions, what each address takes, the guard before
//! every page.

pub mod deeds;
pub mod guard;
pub mod peer;
pub mod secret;
pub mod sessions;
pub mod station;

use std::collections::BTreeMap;
use suspect_core::people::{Deed, FORMER, Role, author, author_of};
use suspect_store::Uuid;
use suspect_store::people::{Member, Station};

/// Who is there.
#[derive(Debug, Clone, Default)]
pub struct Present {
    /// The member who signed in.
    pub member: Option<Member>,
    /// Names of all members by their number.
    pub names: BTreeMap<Uuid, String>,
    /// What each present member is, for saying who may.
    pub roles: Vec<(String, Role)>,
    /// One person on this computer, without members: everything is theirs.
    pub alone: bool,
    /// The shared station this is.
    pub station: Option<Station>,
}

impl Present {
    /// Members as they are, and who of them signed in.
    pub fn of(members: Vec<Member>, who: Option<Uuid>, stamp: Option<Uuid>) -> Self {
        let here = |m: &&Member| !m.left && Some(m.id) == who && Some(m.stamp) == stamp;
        let present = members.iter().filter(|m| !m.left);
        Self {
            member: members.iter().find(here).cloned(),
            roles: present.map(|m| (m.name.clone(), m.role)).collect(),
            names: members.into_iter().map(|m| (m.id, m.name)).collect(),
            alone: false,
            station: None,
        }
    }

    /// Whether they may. What only a keeper may takes their passphrase: no PIN does.
    pub fn may(&self, deed: Deed) -> bool {
        let here = self.station.is_none() || deed != Deed::Keep;
        self.alone || here && self.member.as_ref().is_some_and(|m| m.role.may(deed))
    }

    /// How entries name whoever signed in.
    pub fn author(&self) -> Option<String> {
        self.member.as_ref().map(|m| author(&m.id.to_string()))
    }

    /// The name behind what an entry holds.
    pub fn shown(&self, by: &str) -> String {
        match author_of(by) {
            None => by.to_string(),
            Some(id) => {
                let name = id.parse().ok().and_then(|id| self.names.get(&id));
                name.map_or(FORMER, String::as_str).to_string()
            }
        }
    }

    /// Names of those who may.
    pub fn who_may(&self, deed: Deed) -> Vec<String> {
        let may = self.roles.iter().filter(|(_, role)| role.may(deed));
        may.map(|(name, _)| name.clone()).collect()
    }
}
