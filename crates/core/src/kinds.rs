//! Common kinds of machines, so that a person can say what theirs is like with one touch.

use std::collections::BTreeMap;

/// A common kind: what a machine of it is usually built like. Each answer can be changed after.
#[derive(Debug)]
pub struct Kind {
    /// Identifier in forms.
    pub id: &'static str,
    /// The words a person reads.
    pub plain: &'static str,
    /// Fields of the profile with their usual values.
    pub profile: &'static [(&'static str, &'static str)],
}

/// Kinds from the commonest on.
pub const KINDS: [Kind; 5] = [
    Kind {
        id: "bed-tube",
        plain: "bed moves, filament through a tube",
        profile: &[
            ("motion", "bed-slinger"),
            ("feed", "bowden"),
            ("hotend", "lined"),
            ("z_drive", "one-screw"),
            ("z_screw", "lead-screw"),
            ("carriage", "wheels"),
            ("levelling", "manual"),
            ("enclosure", "open"),
            ("filament_change", "none"),
        ],
    },
    Kind {
        id: "bed-direct",
        plain: "bed moves, feeder on the head",
        profile: &[
            ("motion", "bed-slinger"),
            ("feed", "direct"),
            ("z_drive", "two-screws"),
            ("z_screw", "lead-screw"),
            ("levelling", "probe"),
            ("enclosure", "open"),
            ("filament_change", "none"),
        ],
    },
    Kind {
        id: "box",
        plain: "closed box, head on crossed belts",
        profile: &[
            ("motion", "crossed-belt"),
            ("feed", "direct"),
            ("hotend", "all-metal"),
            ("z_drive", "three-screws"),
            ("z_screw", "lead-screw"),
            ("levelling", "probe"),
            ("enclosure", "closed"),
        ],
    },
    Kind {
        id: "arm",
        plain: "small, arm held on one side",
        profile: &[
            ("motion", "cantilever"),
            ("feed", "direct"),
            ("z_drive", "one-screw"),
            ("levelling", "nozzle-touch"),
            ("enclosure", "open"),
        ],
    },
    Kind {
        id: "three-arms",
        plain: "round bed, three arms",
        profile: &[
            ("motion", "delta"),
            ("feed", "bowden"),
            ("z_drive", "belt"),
            ("levelling", "nozzle-touch"),
            ("enclosure", "open"),
        ],
    },
];

/// The usual profile of a kind.
pub fn profile(id: &str) -> Option<BTreeMap<String, String>> {
    let kind = KINDS.iter().find(|k| k.id == id)?;
    let pair = |(field, value): &(&str, &str)| (field.to_string(), value.to_string());
    Some(kind.profile.iter().map(pair).collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::machine::build;
    use crate::profile::Context;

    #[test]
    fn kinds_say_only_what_a_profile_knows() {
        for kind in &KINDS {
            let mut context = Context::default();
            for (field, value) in kind.profile {
                context.set(field, value).unwrap();
            }
            assert_eq!(
                context.known().count(),
                kind.profile.len(),
                "{}: a field twice",
                kind.id
            );
            assert_eq!(build(&profile(kind.id).unwrap()), context);
        }
        assert_eq!(profile("spaceship"), None);
    }
}
