//! Entries of a machine's log in words.

use crate::show;
use crate::words::{journal, reading};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::{Described, MachineEvent, build};
use suspect_core::profile::{Context, FIELDS, FieldId};
use suspect_core::series::Keep;

/// One entry in words; `before` is what the machine was until then.
pub fn line(k: &Knowledge, event: &MachineEvent, before: Option<&Described>) -> String {
    if let Some(words) = journal::line(k, event) {
        return words;
    }
    match event {
        MachineEvent::Described { machine, lifts } => {
            let what = before.map_or_else(|| "Written down".to_string(), |b| changed(b, machine));
            match lifts {
                Some(l) => format!(
                    "{what}. Stop lifted by {}: {}",
                    crate::screen::shown(&l.by),
                    l.reason
                ),
                None => what,
            }
        }
        MachineEvent::Benched { reading, .. } => reading::line(reading),
        MachineEvent::Filed { name, .. } => format!("Last good file: {name}"),
        MachineEvent::PieceRead {
            piece,
            fast,
            features,
            ..
        } => {
            let name = suspect_pieces::piece(piece).map_or(piece.as_str(), |p| p.name);
            let normal = features.values().filter(|f| f.said == "normal").count();
            let speed = if *fast { ", fast" } else { "" };
            format!(
                "Test piece read: {name}{speed}, {normal} of {} normal",
                features.len()
            )
        }
        MachineEvent::Settled { name, keep, .. } => settled(name, keep),
        MachineEvent::Reached { device, address } if address.is_empty() => {
            format!("{}: no longer reached", device_name(device))
        }
        MachineEvent::Reached { device, address } => {
            format!("{}: reached at {address}", device_name(device))
        }
        MachineEvent::OutOfService { reason } => format!("Out of service: {reason}"),
        MachineEvent::BackInService => "Back in service".into(),
        _ => String::new(),
    }
}

/// What a device is called.
pub fn device_name(device: &str) -> &'static str {
    match device {
        "console" => "Console",
        "power-meter" => "Power meter",
        _ => "Calipers",
    }
}

/// What a change of the description changed.
fn changed(before: &Described, after: &Described) -> String {
    let texts = [
        ("name", &before.name, &after.name),
        ("kind", &before.model, &after.model),
        ("place", &before.place, &after.place),
        ("note", &before.note, &after.note),
    ];
    let said = |text: &str| {
        if text.is_empty() {
            "nothing".into()
        } else {
            format!("“{text}”")
        }
    };
    let texts = texts.into_iter().filter(|(_, b, a)| b != a);
    let texts = texts.map(|(what, b, a)| format!("{what} {} instead of {}", said(a), said(b)));
    let (old, new) = (build(&before.profile), build(&after.profile));
    let fields = FieldId::ALL.into_iter().zip(FIELDS);
    let fields = fields
        .filter(|(id, _)| old.id(*id) != new.id(*id))
        .map(|(id, f)| {
            let value = |c: &Context| c.get(id).map_or("not known", |v| v.plain);
            format!(
                "{} {} instead of {}",
                show::lower_first(f.plain),
                value(&new),
                value(&old)
            )
        });
    let all: Vec<String> = texts.chain(fields).collect();
    if all.is_empty() {
        "Nothing changed".into()
    } else {
        format!("Changed: {}", all.join("; "))
    }
}

/// What a trial series ended with.
fn settled(name: &str, keep: &[Keep]) -> String {
    let kept: Vec<String> = keep
        .iter()
        .map(|k| format!("{} {}", k.name, k.value))
        .collect();
    match kept.is_empty() {
        true => format!("Trials ended: {name}"),
        false => format!("Trials ended: {name}. Kept: {}", kept.join(", ")),
    }
}
