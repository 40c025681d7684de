//! Findings the program draws from numbers by itself: temperatures against the material's window,
//! flow against the melt limit.

use super::{Answer, Confidence, Sighting};
use crate::knowledge::{FindingId, Knowledge};
use crate::profile::{Context, Enclosure, Feed, FieldId, HotEnd, Motion};
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
            window(
                settings,
                NumberId::BedC,
                bed_window(knowledge, context, settings),
            ),
        ),
        (
            "fan-vs-window",
            window(
                settings,
                NumberId::FanPercent,
                material(knowledge, context).map(|m| m.fan_percent),
            ),
        ),
        ("flow-demand", flow_demand(context, settings)),
        (
            "enclosure-vs-material",
            enclosure(knowledge, context, settings),
        ),
        ("line-vs-nozzle", line(settings)),
        ("skin-vs-infill", skin(settings)),
        ("retract-vs-feed", retraction(context, settings)),
    ]
    .into_iter()
    .chain(plain_numbers(context, settings));
    drawn
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

/// The window a filament of another family came with, where both ends were given.
fn own(settings: &Settings, low: NumberId, high: NumberId) -> Option<(f64, f64)> {
    let (low, high) = (settings.get(low)?, settings.get(high)?);
    (low < high).then_some((low, high))
}

/// Nozzle window in °C, low to high, of the material in this hot end: as far as either is known. A
/// lined hot end cuts it.
pub fn nozzle_window(
    knowledge: &Knowledge,
    context: &Context,
    settings: &Settings,
) -> Option<(f64, f64)> {
    let of_material = own(settings, NumberId::OwnNozzleLowC, NumberId::OwnNozzleHighC)
        .or_else(|| material(knowledge, context).map(|m| m.nozzle_c));
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
    let window =
        nozzle_window(knowledge, context, settings).map_or(f64::INFINITY, |(_, high)| high);
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
    settings: &Settings,
    number: NumberId,
) -> Option<(f64, f64)> {
    match number {
        NumberId::NozzleC => nozzle_window(knowledge, context, settings).filter(|w| w.0 > 0.0),
        NumberId::BedC => bed_window(knowledge, context, settings),
        NumberId::ChamberC => material(knowledge, context).map(|m| m.chamber_c),
        NumberId::FanPercent => material(knowledge, context).map(|m| m.fan_percent),
        _ => None,
    }
}

/// Bed window of the material, or the one its filament came with.
pub fn bed_window(
    knowledge: &Knowledge,
    context: &Context,
    settings: &Settings,
) -> Option<(f64, f64)> {
    own(settings, NumberId::OwnBedLowC, NumberId::OwnBedHighC)
        .or_else(|| material(knowledge, context).map(|m| m.bed_c))
}

fn nozzle(knowledge: &Knowledge, context: &Context, settings: &Settings) -> Drawn {
    let (low, high) = nozzle_window(knowledge, context, settings).filter(|w| w.0 > 0.0)?;
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

/// A number against a window of the material.
fn window(settings: &Settings, number: NumberId, window: Option<(f64, f64)>) -> Drawn {
    let (low, high) = window?;
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
    let (limit, confidence) = melt_limit(context, settings)?;
    Some((demand(rate, limit), confidence))
}

/// The melt limit in mm³/s as told, or the usual one of the hot end; and how surely.
pub fn melt_limit(context: &Context, settings: &Settings) -> Option<(f64, Confidence)> {
    match (settings.get(NumberId::MeltLimitMm3S), HotEnd::of(context)) {
        (Some(limit), _) => Some((limit, Confidence::Sure)),
        (None, Some(HotEnd::Lined)) => Some((MELT_LINED, Confidence::Likely)),
        (None, Some(HotEnd::AllMetal)) => Some((MELT_ALL_METAL, Confidence::Likely)),
        (None, None) => None,
    }
}

/// State of `flow-demand`: a rate against the melt limit, both in mm³/s.
pub fn demand(rate: f64, limit: f64) -> &'static str {
    if rate > limit {
        "over-limit"
    } else if rate >= NEAR_LIMIT * limit {
        "near-limit"
    } else {
        "easy"
    }
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

/// Numbers that speak without the material.
fn plain_numbers(
    context: &Context,
    settings: &Settings,
) -> impl Iterator<Item = (&'static str, Drawn)> {
    [
        ("layer-vs-nozzle", layer_height(settings)),
        ("flow-vs-calibrated", flow(settings)),
        ("accel-vs-motion", acceleration(context, settings)),
        ("diameter-vs-set", diameter(settings)),
        ("layer-vs-step", layer_of_steps(settings)),
        (
            "travel-vs-usual",
            slow(settings, NumberId::TravelMmS, SLOW_TRAVEL),
        ),
        (
            "retract-speed",
            slow(settings, NumberId::RetractMmS, SLOW_RETRACTION),
        ),
        ("wall-count", walls(settings)),
        ("layer-time", layer_time(settings)),
    ]
    .into_iter()
}

/// A layer is pressed onto the one below up to this share of the bore.
const LAYER_FITS: f64 = 0.75;

fn layer_height(settings: &Settings) -> Drawn {
    let share = settings.get(NumberId::LayerMm)? / settings.get(NumberId::NozzleMm)?;
    sure(match share > LAYER_FITS + 1e-9 {
        true => "too-tall",
        false => "fits",
    })
}

/// A flow is as calibrated within this share of it.
const FLOW_WITHIN: f64 = 0.03;

fn flow(settings: &Settings) -> Drawn {
    let ratio = settings.get(NumberId::FlowRatio)? / settings.get(NumberId::CalibratedFlowRatio)?;
    sure(match ratio - 1.0 {
        off if off < -FLOW_WITHIN => "lower",
        off if off > FLOW_WITHIN => "higher",
        _ => "as-calibrated",
    })
}

/// Acceleration in mm/s² up to which a kind of motion is asked nothing unusual.
fn usual_acceleration(motion: Motion) -> f64 {
    match motion {
        Motion::Cantilever => 2000.0,
        Motion::BedSlinger => 3000.0,
        Motion::Delta => 5000.0,
        Motion::CrossGantry => 6000.0,
        Motion::CrossedBelt => 8000.0,
    }
}

fn acceleration(context: &Context, settings: &Settings) -> Drawn {
    let usual = usual_acceleration(Motion::of(context)?);
    let asked = settings.get(NumberId::AccelMmS2)?;
    Some(match asked > usual {
        true => ("hard", Confidence::Likely),
        false => ("usual", Confidence::Likely),
    })
}

/// A measured diameter is the one set within so many mm.
const DIAMETER_WITHIN: f64 = 0.1;

fn diameter(settings: &Settings) -> Drawn {
    let off = settings.get(NumberId::FilamentMm)? - settings.get(NumberId::FilamentSetMm)?;
    sure(match off.abs() > DIAMETER_WITHIN {
        true => "differs",
        false => "matches",
    })
}

/// # Formula
/// full-step height = lead / full steps in a turn
fn layer_of_steps(settings: &Settings) -> Drawn {
    let step = settings.get(NumberId::ZLeadMm)? / settings.get(NumberId::ZFullSteps)?;
    let steps = settings.get(NumberId::LayerMm)? / step;
    sure(match (steps - steps.round()).abs() < 0.02 {
        true => "whole",
        false => "off",
    })
}

/// Travel and retraction slower than this, in mm/s, give the nozzle time to ooze.
const SLOW_TRAVEL: f64 = 100.0;
const SLOW_RETRACTION: f64 = 20.0;

fn slow(settings: &Settings, number: NumberId, least: f64) -> Drawn {
    sure(match settings.get(number)? < least {
        true => "slow",
        false => "usual",
    })
}

/// Walls that hide the infill.
const WALLS_ENOUGH: f64 = 3.0;

fn walls(settings: &Settings) -> Drawn {
    sure(match settings.get(NumberId::Walls)? < WALLS_ENOUGH {
        true => "few",
        false => "enough",
    })
}

/// A layer quicker than this many seconds is still soft under the next.
const LAYER_COOLS: f64 = 10.0;

fn layer_time(settings: &Settings) -> Drawn {
    sure(match settings.get(NumberId::LayerS)? < LAYER_COOLS {
        true => "short",
        false => "enough",
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
