//! Findings the program draws from numbers by itself: temperatures against the material's window,
//! flow against the melt limit.

use super::{Answer, Confidence, Sighting};
use crate::knowledge::{FindingId, Knowledge};
use crate::profile::{Context, Enclosure, Feed, FieldId, HotEnd};
use crate::settings::{NumberId, Settings};

/// Outer quarter of the nozzle window that counts as its low or high end.
const WINDOW_END: f64 = 0.25;
/// A lined hot end gives off harmful gas above about this many °C: its windows are cut here.
pub const LINED_HOTTEST: f64 = 240.0;
/// So many °C below the limit of a lined hot end its window ends.
const BELOW_LIMIT: f64 = 10.0;
/// Share of the melt limit from which the demand counts as near it.
const NEAR_LIMIT: f64 = 0.8;
/// Line width that fits a nozzle, as multiples of its size.
const LINE_FITS: (f64, f64) = (0.9, 1.5);
/// Usual retraction in mm with a Bowden feed and with a direct one.
const RETRACT_BOWDEN: (f64, f64) = (3.0, 6.0);
const RETRACT_DIRECT: (f64, f64) = (0.4, 1.5);
/// Melt limit in mm³/s assumed for a 0.4 mm nozzle when none is given: lined, all-metal.
const MELT_LINED: f64 = 10.0;
const MELT_ALL_METAL: f64 = 14.0;
/// A top skin thinner than this (mm) over an infill sparser than this (per cent) bridges badly.
const SKIN_THIN: (f64, f64) = (0.8, 20.0);

/// All findings that follow from the numbers known, with the state each shows. A number not known
/// gives nothing.
pub fn findings_from_numbers(
    knowledge: &Knowledge,
    context: &Context,
    settings: &Settings,
) -> Vec<(FindingId, Sighting)> {
    let drawn = [
        ("nozzle-vs-window", nozzle(knowledge, context, settings)),
        (
            "bed-vs-window",
            window(knowledge, context, settings, NumberId::BedC, |m| m.bed_c),
        ),
        (
            "fan-vs-window",
            window(knowledge, context, settings, NumberId::FanPercent, |m| {
                m.fan_percent
            }),
        ),
        ("flow-demand", flow_demand(context, settings)),
        (
            "enclosure-vs-material",
            enclosure(knowledge, context, settings),
        ),
        ("line-vs-nozzle", line(settings)),
        ("skin-vs-infill", skin(settings)),
        ("retract-vs-feed", retraction(context, settings)),
    ];
    drawn
        .into_iter()
        .filter_map(|(id, state)| {
            let (state, confidence) = state?;
            let finding = knowledge.finding_id(id)?;
            let state = knowledge.finding(finding).state(state)?;
            Some((
                finding,
                Sighting {
                    answer: Answer::State(state),
                    confidence,
                },
            ))
        })
        .collect()
}

type Drawn = Option<(&'static str, Confidence)>;

fn sure(state: &'static str) -> Drawn {
    Some((state, Confidence::Sure))
}

fn material<'k>(
    knowledge: &'k Knowledge,
    context: &Context,
) -> Option<&'k crate::knowledge::Material> {
    knowledge.material(context.id(FieldId::Material)?)
}

/// Nozzle window in °C, low to high, of the material in this hot end: as far as either is known. A
/// lined hot end cuts it.
pub fn nozzle_window(knowledge: &Knowledge, context: &Context) -> Option<(f64, f64)> {
    let of_material = material(knowledge, context).map(|m| m.nozzle_c);
    let hottest = if HotEnd::of(context) == Some(HotEnd::Lined) {
        LINED_HOTTEST
    } else {
        f64::INFINITY
    };
    match of_material {
        Some((low, high)) => Some((low.min(hottest), high.min(hottest))),
        None => hottest.is_finite().then_some((0.0, hottest)),
    }
}

/// Hottest the nozzle should be set, in °C: the end of the window, and in a lined hot end some
/// degrees below its limit.
pub fn hottest_nozzle(knowledge: &Knowledge, context: &Context, settings: &Settings) -> f64 {
    let window = nozzle_window(knowledge, context).map_or(f64::INFINITY, |(_, high)| high);
    let limit = settings
        .get(NumberId::LinedLimitC)
        .filter(|_| HotEnd::of(context) == Some(HotEnd::Lined));
    window.min(limit.map_or(f64::INFINITY, |l| l - BELOW_LIMIT))
}

/// Window of a number for this material in this machine, low to high in the number's own unit,
/// where there is one.
pub fn window_for(
    knowledge: &Knowledge,
    context: &Context,
    number: NumberId,
) -> Option<(f64, f64)> {
    match number {
        NumberId::NozzleC => {
            material(knowledge, context).and_then(|_| nozzle_window(knowledge, context))
        }
        NumberId::BedC => material(knowledge, context).map(|m| m.bed_c),
        NumberId::ChamberC => material(knowledge, context).map(|m| m.chamber_c),
        NumberId::FanPercent => material(knowledge, context).map(|m| m.fan_percent),
        _ => None,
    }
}

fn nozzle(knowledge: &Knowledge, context: &Context, settings: &Settings) -> Drawn {
    material(knowledge, context)?;
    let (low, high) = nozzle_window(knowledge, context)?;
    let t = settings.get(NumberId::NozzleC)?;
    let end = (high - low) * WINDOW_END;
    sure(match t {
        t if t < low => "below",
        t if t > high => "above",
        t if t < low + end => "low-end",
        t if t > high - end => "high-end",
        _ => "inside",
    })
}

fn window(
    knowledge: &Knowledge,
    context: &Context,
    settings: &Settings,
    number: NumberId,
    of: impl Fn(&crate::knowledge::Material) -> (f64, f64),
) -> Drawn {
    let (low, high) = of(material(knowledge, context)?);
    let value = settings.get(number)?;
    sure(if value < low {
        "below"
    } else if value > high {
        "above"
    } else {
        "inside"
    })
}

/// Volumetric rate asked for, in mm³/s.
///
/// # Formula
/// Q = h · w · v with layer height h and line width w in mm and speed v in mm/s.
pub fn volumetric_rate(layer_mm: f64, line_width_mm: f64, speed_mm_s: f64) -> f64 {
    layer_mm * line_width_mm * speed_mm_s
}

fn flow_demand(context: &Context, settings: &Settings) -> Drawn {
    let rate = volumetric_rate(
        settings.get(NumberId::LayerMm)?,
        settings.get(NumberId::LineWidthMm)?,
        settings.get(NumberId::SpeedMmS)?,
    );
    let (limit, confidence) = match (settings.get(NumberId::MeltLimitMm3S), HotEnd::of(context)) {
        (Some(limit), _) => (limit, Confidence::Sure),
        (None, Some(HotEnd::Lined)) => (MELT_LINED, Confidence::Likely),
        (None, Some(HotEnd::AllMetal)) => (MELT_ALL_METAL, Confidence::Likely),
        (None, None) => return None,
    };
    let state = if rate > limit {
        "over-limit"
    } else if rate >= NEAR_LIMIT * limit {
        "near-limit"
    } else {
        "easy"
    };
    Some((state, confidence))
}

fn enclosure(knowledge: &Knowledge, context: &Context, settings: &Settings) -> Drawn {
    let material = material(knowledge, context)?;
    let (low, high) = material.chamber_c;
    if let Some(t) = settings.get(NumberId::ChamberC) {
        return sure(if t > high {
            "too-warm"
        } else if material.closed && t < low {
            "too-open"
        } else {
            "fits"
        });
    }
    match (material.closed, Enclosure::of(context)?) {
        (true, Enclosure::Open) => sure("too-open"),
        (true, _) | (false, Enclosure::Open) => sure("fits"),
        (false, Enclosure::Heated) => Some(("too-warm", Confidence::Likely)),
        (false, Enclosure::Closed) => Some(("too-warm", Confidence::Hunch)),
    }
}

fn line(settings: &Settings) -> Drawn {
    let ratio = settings.get(NumberId::LineWidthMm)? / settings.get(NumberId::NozzleMm)?;
    sure(if ratio < LINE_FITS.0 - 1e-9 {
        "too-thin"
    } else if ratio > LINE_FITS.1 + 1e-9 {
        "too-wide"
    } else {
        "fits"
    })
}

fn skin(settings: &Settings) -> Drawn {
    let thickness = settings.get(NumberId::TopLayers)? * settings.get(NumberId::LayerMm)?;
    let infill = settings.get(NumberId::InfillPercent)?;
    sure(if thickness < SKIN_THIN.0 - 1e-9 && infill < SKIN_THIN.1 {
        "thin"
    } else {
        "enough"
    })
}

fn retraction(context: &Context, settings: &Settings) -> Drawn {
    let (low, high) = if Feed::of(context)? == Feed::Bowden {
        RETRACT_BOWDEN
    } else {
        RETRACT_DIRECT
    };
    let value = settings.get(NumberId::RetractMm)?;
    sure(if value < low {
        "small"
    } else if value > high {
        "large"
    } else {
        "usual"
    })
}
