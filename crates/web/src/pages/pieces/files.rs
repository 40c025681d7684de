//! The files of a piece: STL and 3MF for the settings that the address says.

use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::Answer;
use crate::{show, urls};
use axum::extract::{Path, RawQuery};
use axum::http::header;
use axum::response::IntoResponse;
use suspect_pieces::{Piece, Settings, piece, stl, three_mf};
use suspect_store::think;

/// The settings that an address or a form says.
///
/// # Errors
/// In words, for the page.
pub fn settings(fields: &Fields) -> Result<Settings, String> {
    let told = |e: &dyn std::fmt::Display| show::sentence(&show::capital(&e.to_string()));
    let nozzle = fields.number("nozzle", 0.4).map_err(|e| told(&e))?;
    let usual = Settings::of_nozzle(nozzle);
    let number = |name: &str, otherwise: f64| fields.number(name, otherwise).map_err(|e| told(&e));
    let gaps = fields
        .get("gaps")
        .split([' ', ';'])
        .filter(|g| !g.is_empty());
    let gaps: Vec<f64> = gaps
        .map(|g| {
            g.replace(',', ".")
                .parse()
                .map_err(|_| format!("“{g}” is no gap in mm."))
        })
        .collect::<Result<_, String>>()?;
    let settings = Settings {
        nozzle,
        line: number("line", usual.line)?,
        layer: number("layer", usual.layer)?,
        first: number("first", usual.first)?,
        clearances: if gaps.is_empty() {
            usual.clearances
        } else {
            gaps
        },
    };
    settings.check().map_err(|e| told(&e))?;
    Ok(settings)
}

/// The piece of an address.
///
/// # Errors
/// When there is no such piece.
pub fn known(id: &str) -> Result<&'static Piece, PageError> {
    piece(id).ok_or(PageError::NotFound("test piece"))
}

/// `GET /pieces/{piece}/file.stl`, `GET /pieces/{piece}/file.3mf`
pub async fn file(Path((id, name)): Path<(String, String)>, RawQuery(query): RawQuery) -> Answer {
    let piece = known(&id)?;
    let refused = |message: String| PageError::Refused {
        message,
        back: urls::piece(piece.id),
    };
    let settings = settings(&Fields::of_query(query)).map_err(refused)?;
    let (kind, packed) = match name.as_str() {
        "file.stl" => ("model/stl", false),
        "file.3mf" => ("model/3mf", true),
        _ => return Err(PageError::NotFound("file")),
    };
    let bytes = think(|| {
        let mesh = piece.mesh(&settings).map_err(|e| e.to_string())?;
        match packed {
            true => three_mf(&mesh, piece.id).map_err(|e| e.to_string()),
            false => Ok(stl(&mesh, piece.id)),
        }
    });
    let bytes = bytes
        .await
        .map_err(|e| refused(show::sentence(&show::capital(&e))))?;
    let end = if packed { "3mf" } else { "stl" };
    let head = [
        (header::CONTENT_TYPE, kind.to_owned()),
        (
            header::CONTENT_DISPOSITION,
            format!(r#"attachment; filename="{}.{end}""#, piece.id),
        ),
    ];
    Ok((head, bytes).into_response())
}
