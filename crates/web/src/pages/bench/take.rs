//! A reading from a device, put among those of a field.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::pages::again;
use crate::pages::bench::device::device_for;
use crate::pages::bench::measure::{named, page};
use crate::state::AppState;
use crate::{show, urls};
use axum::extract::{Path, RawQuery, State};
use axum::response::{IntoResponse, Redirect};
use std::collections::BTreeMap;
use suspect_core::machine::devices;
use suspect_core::measures::{Input, Kind, Measure};
use suspect_devices::{Address, Console, DeviceError, Tool};
use suspect_store::Uuid;

/// `GET /bench/{measure}/take/{input}` with the fields as they are: asks the device once and comes
/// back with its reading.
pub async fn take(
    State(state): State<AppState>,
    Path((id, input)): Path<(String, String)>,
    RawQuery(query): RawQuery,
) -> Answer {
    let measure = named(&id)?;
    let mut fields = Fields::of_query(query);
    let input = measure
        .input(&input)
        .ok_or(PageError::NotFound("measure"))?;
    let machine: Uuid = match (fields.get("machine").parse(), fields.get("case").parse()) {
        (_, Ok(case)) => state.store.case_row(case).await?.machine_id,
        (Ok(machine), _) => machine,
        _ => return Err(PageError::NotFound("machine")),
    };
    let log = state.store.machine_log(machine).await?;
    match read(&state, &devices(&log), measure, input).await {
        Ok(reading) => {
            let before = match input.kind {
                Kind::Readings(..) => fields.get(input.id).to_string(),
                _ => String::new(),
            };
            let text = format!("{before} {reading}").trim().to_string();
            fields.push(input.id.to_string(), text);
            let all: Vec<(&str, String)> = fields
                .said()
                .map(|(n, v)| (n.as_str(), v.clone()))
                .collect();
            let to = urls::with(&urls::measure(measure.id), &all);
            Ok(Redirect::to(&to).into_response())
        }
        Err(why) => {
            let why = show::sentence(&why.to_string());
            Ok(again(page(&state, measure, &fields, Some(why)).await?))
        }
    }
}

/// What the device reads, as a person would type it.
async fn read(
    state: &AppState,
    reached: &BTreeMap<String, String>,
    measure: &Measure,
    input: &Input,
) -> Result<String, DeviceError> {
    let device = device_for(measure, input).unwrap_or_default();
    let none = || DeviceError::NoDevice(device.to_string());
    let address = Address::read(reached.get(device).ok_or_else(none)?)?;
    let written = |value: f64, unit: &str| match unit == input.unit.shown() {
        true => show::exact(value),
        false => format!("{}{unit}", show::exact(value)),
    };
    match device {
        "console" => {
            let heat = Console::open(&address, &state.devices)
                .await?
                .temperatures()
                .await?;
            let chamber = measure.id.starts_with("chamber");
            let heat = if chamber { heat.chamber } else { heat.hot_end };
            heat.map(|h| show::exact(h.is)).ok_or_else(none)
        }
        "power-meter" => {
            let reading = Tool::open(&address, &state.devices).await?.ask().await?;
            Ok(written(reading.value, &reading.unit))
        }
        _ => {
            let reading = Tool::open(&address, &state.devices).await?.typed().await?;
            Ok(written(reading.value, &reading.unit))
        }
    }
}
