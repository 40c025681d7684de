//! A layer and the figures of all layers, as data for the view and as a drawing.

use super::open_file::OpenFile;
use crate::drawing::print_file::layer as drawn;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::state::AppState;
use crate::words::print_file as words;
use axum::Json;
use axum::extract::{Path, State};
use axum::http::header;
use axum::response::IntoResponse;
use serde_json::{Value, json};
use suspect_core::gcode::trace::{Trace, Way};
use suspect_core::gcode::{Extent, Figure, LineType, Reading};
use suspect_store::think;

/// `GET /files/{file}/series`: every figure of every layer, in words, for the values at a height.
pub async fn series(file: OpenFile) -> Answer {
    Ok(Json(think(|| all(&file.reading)).await).into_response())
}

fn all(reading: &Reading) -> Value {
    let layers = &reading.layers;
    let round = |v: f64| (v * 1000.0).round() / 1000.0;
    let figures: serde_json::Map<String, Value> = Figure::ALL
        .into_iter()
        .map(|figure| {
            let values = layers.iter().map(|layer| {
                figure
                    .of(reading, layer)
                    .map(|value| words::value(figure, value))
            });
            (figure.id().to_string(), json!(values.collect::<Vec<_>>()))
        })
        .collect();
    json!({
        "z": layers.iter().map(|l| round(l.z)).collect::<Vec<_>>(),
        "bottom": layers.iter().map(|l| round(l.z - l.height)).collect::<Vec<_>>(),
        "figures": figures,
    })
}

/// `GET /files/{file}/layers/{layer}`: the paths of a layer, from 1, as data.
pub async fn data(
    State(state): State<AppState>,
    file: OpenFile,
    Path((_, number)): Path<(String, String)>,
) -> Answer {
    let trace = traced(&state, &file, &number).await?;
    let own = own_box(&file.reading, &number);
    Ok(Json(think(|| of(&file.reading, own, &trace)).await).into_response())
}

/// The box of a layer itself.
fn own_box(reading: &Reading, number: &str) -> Extent {
    let layer = number.parse::<usize>().ok().and_then(|n| n.checked_sub(1));
    let own = layer
        .and_then(|at| reading.layers.get(at))
        .map(|l| l.extent);
    own.filter(|own| own.size().is_some())
        .unwrap_or_else(|| reading.extent())
}

/// `GET /files/{file}/layers/{layer}/drawing`: the same as a picture.
pub async fn drawing(
    State(state): State<AppState>,
    file: OpenFile,
    Path((_, number)): Path<(String, String)>,
) -> Answer {
    let trace = traced(&state, &file, &number).await?;
    let label = format!("Layer {number}");
    let own = own_box(&file.reading, &number);
    let svg = think(|| drawn::svg(&trace, own, &label)).await;
    let svg = svg.replacen("<svg ", r#"<svg xmlns="http://www.w3.org/2000/svg" "#, 1);
    Ok(([(header::CONTENT_TYPE, "image/svg+xml")], svg).into_response())
}

async fn traced(state: &AppState, file: &OpenFile, number: &str) -> Result<Trace, PageError> {
    let number: usize = number.parse().map_err(|_| PageError::NotFound("layer"))?;
    let layer = number.checked_sub(1).ok_or(PageError::NotFound("layer"))?;
    file.trace(state, layer)
        .await?
        .ok_or(PageError::NotFound("layer"))
}

/// Pieces as flat lists: what, four places, speed, flow, line.
fn of(reading: &Reading, own: Extent, trace: &Trace) -> Value {
    let hundredths = |mm: f32| (mm * 100.0).round() / 100.0;
    let tenths = |v: f64| (v * 10.0).round() / 10.0;
    let mut ways = Vec::with_capacity(trace.pieces.len());
    let mut places = Vec::with_capacity(trace.pieces.len() * 4);
    let mut speeds = Vec::with_capacity(trace.pieces.len());
    let mut flows = Vec::with_capacity(trace.pieces.len());
    let mut lines = Vec::with_capacity(trace.pieces.len());
    for piece in &trace.pieces {
        ways.push(match piece.way {
            Way::Lays(line_type) => line_type.index() as i32,
            Way::Travels => -1,
            Way::Wipes => -2,
        });
        places.extend([piece.from[0], piece.from[1], piece.to[0], piece.to[1]].map(hundredths));
        speeds.push(tenths(f64::from(piece.speed)));
        flows.push(tenths(reading.flow(f64::from(piece.rate))));
        lines.push(piece.line);
    }
    json!({
        "types": LineType::ALL.map(LineType::id),
        "names": LineType::ALL.map(words::line_type),
        "box": own.0,
        "ways": ways, "places": places, "speeds": speeds, "flows": flows, "lines": lines,
        "seams": trace.seams, "retractions": trace.retractions,
        "leftOut": trace.left_out,
    })
}
