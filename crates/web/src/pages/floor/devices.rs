//! The devices of a machine: where they are reached, and what they say when they are asked. Nothing
//! here heats, sets or moves; the repeat of the probe alone moves, after a person's yes.

use crate::form::{Errors, Fields};
use crate::page_error::PageError;
use crate::pages::open_case::OpenMachine;
use crate::pages::{Answer, Page, again};
use crate::state::AppState;
use crate::words::machine_entry::device_name;
use crate::words::refusal;
use crate::{show, urls};
use askama::Template;
use axum::extract::{Query, State};
use axum::response::{Html, IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::machine::{DEVICES, MachineEvent, devices};
use suspect_devices::{Address, Console, DeviceError, Heat, Tool, Yes, steps_of};
use suspect_store::machines::Machine;
use suspect_store::{StoreError, Uuid};

/// Probings of one repeat.
const PROBINGS: u8 = 10;

/// What the repeat of the probe carries along: heights of the other state, and the case.
const CARRIED: [&str; 3] = ["cool_mm", "warm_mm", "case"];

struct Reached {
    id: &'static str,
    name: &'static str,
    address: String,
    error: Option<String>,
    hint: &'static str,
}

/// What a device said: name and value, line by line.
struct Said {
    title: String,
    rows: Vec<(String, String)>,
    /// Where it may go.
    onward: Option<(String, &'static str)>,
}

#[derive(Template)]
#[template(path = "floor/devices.html")]
struct DevicesPage {
    name: String,
    back: String,
    action: String,
    live: String,
    seq: u32,
    reached: Vec<Reached>,
    /// Heights of before and the case, to be carried along.
    carried: Vec<(&'static str, String)>,
    has_console: bool,
    has_meter: bool,
    /// A stop holds it, or it stands still: it is read, not moved.
    held: bool,
    said: Option<Said>,
    error: Option<String>,
}

/// `GET /machines/{id}/devices?ask=…`
pub async fn show(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    Query(query): Query<BTreeMap<String, String>>,
) -> Page {
    let log = state.store.machine_log(machine.id).await?;
    let addresses = devices(&log);
    let asked = match query.get("ask") {
        Some(what) => Some(ask(&state, &machine, &addresses, what).await),
        None => None,
    };
    let mut page = page(&state, &machine).await?;
    let given = |name| Some((name, query.get(name)?.clone()));
    page.carried = CARRIED.into_iter().filter_map(given).collect();
    match asked {
        Some(Ok(said)) => page.said = said,
        Some(Err(why)) => page.error = Some(show::sentence(&why.to_string())),
        None => {}
    }
    Ok(Html(page.render()?))
}

async fn page(state: &AppState, machine: &Machine) -> Result<DevicesPage, PageError> {
    let log = state.store.machine_log(machine.id).await?;
    let addresses = devices(&log);
    let held = held(state, machine).await?;
    let reached = DEVICES.map(|id| Reached {
        id,
        name: device_name(id),
        address: addresses.get(id).cloned().unwrap_or_default(),
        error: None,
        hint: match id {
            "console" => "host:port, or a serial port: /dev/name@baud",
            "power-meter" => "at the plug of the machine or its chamber",
            _ => "calipers that send what they read",
        },
    });
    Ok(DevicesPage {
        name: machine.name.clone(),
        back: urls::machine(machine.id),
        action: urls::in_machine(machine.id, "devices"),
        live: urls::with(
            &urls::measure("temperature-trace"),
            &[("machine", machine.id.to_string())],
        ),
        seq: log.last().map_or(0, |e| e.seq),
        carried: Vec::new(),
        has_console: addresses.contains_key("console"),
        has_meter: addresses.contains_key("power-meter"),
        reached: reached.into(),
        held,
        said: None,
        error: None,
    })
}

/// Whether the machine may only be read.
async fn held(state: &AppState, machine: &Machine) -> Result<bool, PageError> {
    let k = &state.knowledge;
    let lock = state.store.lock_of(k, machine.id, Uuid::nil()).await?;
    Ok(lock.is_some() || machine.out_of_service.is_some())
}

/// Asks a device; nothing for a question that is none.
async fn ask(
    state: &AppState,
    machine: &Machine,
    addresses: &BTreeMap<String, String>,
    what: &str,
) -> Result<Option<Said>, DeviceError> {
    let device = if what == "power" {
        "power-meter"
    } else {
        "console"
    };
    let Some(address) = addresses.get(device) else {
        return Ok(None);
    };
    let address = Address::read(address)?;
    if what == "power" {
        let reading = Tool::open(&address, &state.devices).await?.ask().await?;
        let value = format!("{} {}", show::exact(reading.value), reading.unit);
        let rows = vec![("Power".to_string(), value)];
        return Ok(Some(said("Power", rows)));
    }
    let mut console = Console::open(&address, &state.devices).await?;
    Ok(match what {
        "temperatures" => {
            let all = console.temperatures().await?;
            let named = [
                ("Hot end", all.hot_end),
                ("Bed", all.bed),
                ("Chamber", all.chamber),
            ];
            let rows = named.into_iter();
            let rows = rows.filter_map(|(name, heat)| Some((name.to_string(), heat_of(heat?))));
            Some(said("Temperatures", rows.collect()))
        }
        "switches" => {
            let all = console.end_switches().await?;
            let state = |pressed| if pressed { "pressed" } else { "open" };
            let rows = all
                .into_iter()
                .map(|s| (s.name, state(s.pressed).to_string()));
            Some(said("End switches", rows.collect()))
        }
        "position" => {
            let all = console.position().await?;
            let rows = all.into_iter().filter(|(axis, _)| *axis != 'E');
            let rows = rows.map(|(axis, at)| (axis.to_string(), format!("{} mm", show::exact(at))));
            Some(said("Position", rows.collect()))
        }
        "mesh" => Some(mesh(&console.mesh().await?, machine)),
        "settings" => Some(settings(&console.settings().await?, machine)),
        _ => None,
    })
}

fn said(title: &str, rows: Vec<(String, String)>) -> Said {
    Said {
        title: title.to_string(),
        rows,
        onward: None,
    }
}

fn heat_of(heat: Heat) -> String {
    match heat.set {
        Some(set) => format!("{} °C, set {} °C", show::number(heat.is), show::number(set)),
        None => format!("{} °C", show::number(heat.is)),
    }
}

/// The mesh it keeps, and the way to the turns of the screws.
fn mesh(places: &[[f64; 3]], machine: &Machine) -> Said {
    let row = |[x, y, z]: &[f64; 3]| {
        let at = format!("X {}, Y {}", show::number(*x), show::number(*y));
        // No minus before a nought.
        (at, format!("{} mm", show::exact(*z + 0.0)))
    };
    let list = |axis: usize| {
        let all: Vec<String> = places.iter().map(|p| show::exact(p[axis])).collect();
        all.join(" ")
    };
    let parameters = [
        ("x_mm", list(0)),
        ("y_mm", list(1)),
        ("z_mm", list(2)),
        ("machine", machine.id.to_string()),
    ];
    Said {
        title: "The mesh it keeps".into(),
        rows: places.iter().map(row).collect(),
        onward: Some((
            urls::with(&urls::measure("tram"), &parameters),
            "Into the turns of the screws",
        )),
    }
}

/// The steps first, in words; then everything as the machine says it.
fn settings(lines: &[String], machine: &Machine) -> Said {
    let steps = steps_of(lines);
    let named = steps.iter().map(|(axis, v)| {
        let name = format!("Steps per mm, {axis}");
        (name, show::exact(*v))
    });
    let raw = lines.iter().map(|l| (String::new(), l.clone()));
    let onward = steps.get(&'E').map(|now| {
        let parameters = [
            ("steps_now", show::exact(*now)),
            ("machine", machine.id.to_string()),
        ];
        let href = urls::with(&urls::measure("extruder-steps-free"), &parameters);
        (href, "Into the extruder's steps")
    });
    Said {
        title: "Settings it keeps".into(),
        rows: named.chain(raw).collect(),
        onward,
    }
}

/// `POST /machines/{id}/devices`: where a device is reached, or the repeat of the probe.
pub async fn change(
    State(state): State<AppState>,
    OpenMachine(machine): OpenMachine,
    fields: Fields,
) -> Answer {
    if let Some(when) = fields.given("probe") {
        return probe(&state, &machine, &fields, when).await;
    }
    let mut errors = Errors::new();
    let back = urls::in_machine(machine.id, "devices");
    let device = fields.get("device").to_string();
    let address = fields.get("address").to_string();
    if !address.is_empty()
        && let Err(why) = Address::read(&address)
    {
        errors.insert(device.clone(), show::sentence(&why.to_string()));
    }
    if errors.is_empty() {
        let event = MachineEvent::Reached {
            device: device.clone(),
            address: address.clone(),
        };
        let stamp = fields.stamp(state.now());
        let k = &state.knowledge;
        let stored = state
            .store
            .append_to_machine(k, machine.id, None, &event, stamp);
        match stored.await {
            Ok(()) => return Ok(Redirect::to(&back).into_response()),
            Err(StoreError::Refused(refused)) => {
                errors.insert(device.clone(), refusal::refusal(k, &refused));
            }
            Err(other) => return Err(other.into()),
        }
    }
    let mut page = page(&state, &machine).await?;
    for reached in page.reached.iter_mut().filter(|r| r.id == device) {
        reached.address.clone_from(&address);
        reached.error = errors.get(&device).cloned();
    }
    Ok(again(page.render()?))
}

/// The repeat of the probe, cool or warm: its heights go to the bench.
async fn probe(state: &AppState, machine: &Machine, fields: &Fields, when: &str) -> Answer {
    let log = state.store.machine_log(machine.id).await?;
    let heights = async {
        if fields.get("yes") != "yes" {
            return Err(
                "Tick that hands are away and the nozzle is clean first: this moves.".into(),
            );
        }
        let told = |why: DeviceError| show::sentence(&why.to_string());
        let reached = devices(&log);
        let address = reached.get("console").ok_or("No console is reached.")?;
        let address = Address::read(address).map_err(|e| told(e.into()))?;
        let held = held(state, machine).await;
        let yes = Yes::said(held.unwrap_or(true)).map_err(told)?;
        let mut console = Console::open(&address, &state.devices)
            .await
            .map_err(told)?;
        console.probe_repeat(PROBINGS, yes).await.map_err(told)
    };
    let heights: Result<Vec<f64>, String> = heights.await;
    match heights {
        Ok(heights) => {
            let texts: Vec<String> = heights.iter().map(|z| show::exact(*z)).collect();
            let (now, before) = match when {
                "warm" => ("warm_mm", "cool_mm"),
                _ => ("cool_mm", "warm_mm"),
            };
            let parameters = [
                (now, texts.join(" ")),
                (before, fields.get(before).to_string()),
                ("machine", machine.id.to_string()),
                ("case", fields.get("case").to_string()),
            ];
            let to = urls::with(&urls::measure("probe-repeat"), &parameters);
            Ok(Redirect::to(&to).into_response())
        }
        Err(why) => {
            let mut page = page(state, machine).await?;
            page.error = Some(why);
            Ok(again(page.render()?))
        }
    }
}
