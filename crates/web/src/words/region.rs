//! Places of the print and parts of the machine in words.

use suspect_core::knowledge::Region;

/// The heading of a region.
pub fn title(region: Region) -> &'static str {
    match region {
        Region::FirstLayer => "First layer and foot",
        Region::Wall => "Walls",
        Region::Seam => "Seam",
        Region::Top => "Tops and slopes",
        Region::Overhang => "Overhangs and supports",
        Region::BetweenIslands => "Between separate parts",
        Region::Tip => "Tips and fine detail",
        Region::Inside => "Inside, cut open",
        Region::Whole => "The whole piece",
        Region::Feeder => "Feeder",
        Region::Spool => "Spool and path",
        Region::HotEnd => "Hot end",
        Region::Bed => "Bed and plate",
        Region::Motion => "Motion",
        Region::Chamber => "Chamber",
        Region::Electrics => "Danger signs",
    }
}

/// Where a region stands on a page, for links to it.
pub fn anchor(region: Region) -> String {
    region.id().replace(' ', "-")
}
