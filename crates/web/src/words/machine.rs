//! A machine in words.

use std::collections::BTreeMap;
use suspect_core::machine::build;
use suspect_core::profile::{Enclosure, Feed, HotEnd, Motion};

/// "bed-slinger, Bowden feed, lined hot end" from a profile.
pub fn kind(profile: &BTreeMap<String, String>) -> String {
    let context = build(profile);
    let motion = Motion::of(&context).map(|motion| match motion {
        Motion::BedSlinger => "bed-slinger",
        Motion::CrossedBelt => "crossed belts",
        Motion::CrossGantry => "cross gantry",
        Motion::Delta => "delta",
        Motion::Cantilever => "cantilever",
    });
    let feed = Feed::of(&context).map(|feed| match feed {
        Feed::Bowden => "Bowden feed",
        Feed::Direct => "direct feed",
    });
    let hot_end = HotEnd::of(&context).map(|end| match end {
        HotEnd::Lined => "lined hot end",
        HotEnd::AllMetal => "all-metal hot end",
    });
    let enclosure = Enclosure::of(&context).and_then(|enclosure| match enclosure {
        Enclosure::Open => None,
        Enclosure::Closed => Some("closed"),
        Enclosure::Heated => Some("heated chamber"),
    });
    let said = [motion, feed, hot_end, enclosure];
    said.into_iter().flatten().collect::<Vec<_>>().join(", ")
}
