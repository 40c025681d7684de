//! Places on the drawing of a print, and the signs each opens.

use crate::knowledge::{FindingId, Knowledge, Region, Section};

/// A place to touch.
#[derive(Debug)]
pub struct Place {
    /// Identifier in links.
    pub id: &'static str,
    /// The words a person reads.
    pub name: &'static str,
    /// Signs that belong just here; they come first and are marked here.
    pub first: &'static [&'static str],
    /// Signs marked elsewhere that people look for here too.
    pub sought: &'static [&'static str],
    /// Regions of the knowledge whose signs follow.
    pub regions: &'static [Region],
}

/// Places from the plate up, then what cannot be pointed at.
pub const PLACES: [Place; 14] = [
    Place {
        id: "foot",
        name: "First layer",
        first: &["flare-at-foot", "corners-lift", "came-loose"],
        sought: &[],
        regions: &[Region::FirstLayer],
    },
    Place {
        id: "wall",
        name: "Wall",
        first: &[],
        sought: &["layer-step"],
        regions: &[Region::Wall],
    },
    Place {
        id: "corner",
        name: "Corner",
        first: &["ringing", "skewed"],
        sought: &["corners-lift"],
        regions: &[Region::Wall],
    },
    Place {
        id: "band",
        name: "Band at a height",
        first: &[
            "bands-regular",
            "band-one-height",
            "layer-step",
            "layer-steps-repeated",
            "missing-layers",
            "line-at-shape-change",
        ],
        sought: &[],
        regions: &[],
    },
    Place {
        id: "seam",
        name: "Seam",
        first: &[],
        sought: &[],
        regions: &[Region::Seam],
    },
    Place {
        id: "overhang",
        name: "Overhang",
        first: &[],
        sought: &[],
        regions: &[Region::Overhang],
    },
    Place {
        id: "bridge",
        name: "Bridge",
        first: &["drooping-bridge"],
        sought: &[],
        regions: &[Region::Overhang],
    },
    Place {
        id: "posts",
        name: "Between posts",
        first: &[],
        sought: &[],
        regions: &[Region::BetweenIslands],
    },
    Place {
        id: "top",
        name: "Flat top",
        first: &[],
        sought: &[],
        regions: &[Region::Top],
    },
    Place {
        id: "slope",
        name: "Slope",
        first: &["slope-gaps", "shallow-steps"],
        sought: &[],
        regions: &[Region::Top],
    },
    Place {
        id: "finial",
        name: "Finial",
        first: &["melted-tips"],
        sought: &[],
        regions: &[Region::Tip],
    },
    Place {
        id: "detail",
        name: "Small detail",
        first: &["thin-lines-missing"],
        sought: &[],
        regions: &[Region::Tip],
    },
    Place {
        id: "inside",
        name: "Inside, cut open",
        first: &[],
        sought: &[],
        regions: &[Region::Inside],
    },
    Place {
        id: "whole",
        name: "The whole piece",
        first: &[],
        sought: &[],
        regions: &[Region::Whole],
    },
];

/// The place with this identifier.
pub fn place(id: &str) -> Option<&'static Place> {
    PLACES.iter().find(|p| p.id == id)
}

/// Signs a place opens: those that belong just here, those sought here, the rest of its regions.
pub fn signs_at(knowledge: &Knowledge, place: &Place) -> Vec<FindingId> {
    let ahead = || place.first.iter().chain(place.sought);
    let mut signs: Vec<FindingId> = ahead().filter_map(|id| knowledge.finding_id(id)).collect();
    for region in place.regions {
        let of_region = knowledge
            .findings
            .iter()
            .enumerate()
            .filter(|(_, f)| f.section == Section::Print && f.region == Some(*region));
        signs.extend(
            of_region
                .map(|(at, _)| FindingId(at as u16))
                .filter(|f| ahead().all(|id| *id != knowledge.finding(*f).id)),
        );
    }
    signs
}

/// The place on which a sign's mark is drawn; `None` for what is not seen on a print.
pub fn marked_at(knowledge: &Knowledge, sign: FindingId) -> Option<&'static Place> {
    let finding = knowledge.finding(sign);
    let belongs = PLACES
        .iter()
        .find(|p| p.first.contains(&finding.id.as_str()));
    let region = || {
        PLACES.iter().find(|p| {
            finding.section == Section::Print
                && finding.region.is_some_and(|r| p.regions.contains(&r))
        })
    };
    belongs.or_else(region)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_sign_of_the_print_is_opened_by_a_place_and_marked_on_one_that_opens_it() {
        let k = Knowledge::shipped();
        for place in &PLACES {
            assert!(
                place
                    .first
                    .iter()
                    .chain(place.sought)
                    .all(|id| k.finding_id(id).is_some()),
                "{}",
                place.id
            );
            assert!(!signs_at(&k, place).is_empty(), "{}", place.id);
        }
        for (at, finding) in k
            .findings
            .iter()
            .enumerate()
            .filter(|(_, f)| f.section == Section::Print)
        {
            let sign = FindingId(at as u16);
            let place =
                marked_at(&k, sign).unwrap_or_else(|| panic!("{} has no place", finding.id));
            assert!(signs_at(&k, place).contains(&sign), "{}", finding.id);
        }
    }
}
