//! Windows of the material families.

use crate::pages::Page;
use crate::show;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::knowledge::{Knowledge, Material};
use suspect_core::profile::{FIELDS, MATERIAL};

struct MaterialRow {
    id: String,
    name: String,
    nozzle: String,
    bed: String,
    chamber: String,
    fan: String,
    enclosure: &'static str,
    drying: String,
}

#[derive(Template)]
#[template(path = "handbook/materials.html")]
struct MaterialsPage {
    chapter: &'static str,
    rows: Vec<MaterialRow>,
}

/// `GET /handbook/materials`
pub async fn show(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let window = |(low, high): (f64, f64)| format!("{}–{}", show::number(low), show::number(high));
    let material = &FIELDS[MATERIAL];
    let row = |m: &Material| MaterialRow {
        name: material
            .values
            .iter()
            .find(|v| v.id == m.id)
            .map_or_else(|| m.id.clone(), |v| v.plain.to_string()),
        id: m.id.clone(),
        nozzle: window(m.nozzle_c),
        bed: window(m.bed_c),
        chamber: if m.closed {
            window(m.chamber_c)
        } else {
            format!("≤ {}", show::number(m.chamber_c.1))
        },
        fan: window(m.fan_percent),
        enclosure: if m.closed {
            "closed, free of draught"
        } else {
            "open"
        },
        drying: m.drying.clone(),
    };
    let rows = knowledge.materials.iter().map(row).collect();
    Ok(Html(
        MaterialsPage {
            chapter: "materials",
            rows,
        }
        .render()?,
    ))
}
