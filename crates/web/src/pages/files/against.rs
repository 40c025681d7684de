//! Two print files compared: settings, figures, and by height.

use super::open_file::{For, OpenFile};
use crate::drawing::print_file::by_height::{ByHeight, Step, svg};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::words::print_file as words;
use crate::{show, urls};
use askama::Template;
use axum::Json;
use axum::extract::{Path, RawQuery, State};
use axum::http::header;
use axum::response::{Html, IntoResponse};
use suspect_core::gcode::differences::{Compared, Difference, compare};
use suspect_core::gcode::{Figure, Reading};
use suspect_core::settings::NumberId;
use suspect_store::{Uuid, think};

/// Figures drawn of both files.
const DRAWN: [Figure; 4] = [Figure::LayerTime, Figure::Flow, Figure::Speed, Figure::Fan];

/// A row of the table.
struct Row {
    name: String,
    before: String,
    after: String,
}

#[derive(Template)]
#[template(path = "files/against.html")]
struct AgainstPage {
    names: [(String, String); 2],
    owner: Option<(String, String)>,
    /// What matters, and what else differs.
    groups: Vec<(String, Vec<Row>)>,
    settings: Vec<Row>,
    by_height: Vec<(String, String, String)>,
    charts: Vec<String>,
    nothing: bool,
    data_href: String,
    /// Where the differences become a trial series.
    trials_href: String,
}

async fn both(
    state: &AppState,
    before: OpenFile,
    after: &str,
) -> Result<([OpenFile; 2], Compared), PageError> {
    let after: Uuid = after
        .parse()
        .map_err(|_| PageError::NotFound("print file"))?;
    let after = OpenFile::read(state, after).await?;
    let compared = think(|| compare(&before.reading, &after.reading)).await;
    Ok(([before, after], compared))
}

/// `GET /files/{file}/against/{other}`: what differs in the other.
pub async fn show(
    State(state): State<AppState>,
    before: OpenFile,
    Path((_, other)): Path<(String, String)>,
    RawQuery(query): RawQuery,
) -> Page {
    let to = For::read(&state, &Fields::of_query(query)).await?;
    let (files, compared) = both(&state, before, &other).await?;
    let html = think(|| view(&files, &compared, &to).render());
    Ok(Html(html.await?))
}

/// `GET /files/{file}/against/{other}/data`: the list of differences in the open format.
pub async fn data(
    State(state): State<AppState>,
    before: OpenFile,
    Path((_, other)): Path<(String, String)>,
) -> Answer {
    let (_, compared) = both(&state, before, &other).await?;
    let named = r#"attachment; filename="differences.json""#;
    Ok(([(header::CONTENT_DISPOSITION, named)], Json(compared)).into_response())
}

fn row(difference: &Difference) -> Row {
    let said = |value: &Option<String>| value.clone().unwrap_or_else(|| "not said".into());
    Row {
        name: show::capital(&difference.name),
        before: said(&difference.before),
        after: said(&difference.after),
    }
}

fn view(files: &[OpenFile; 2], compared: &Compared, to: &For) -> AgainstPage {
    let ids = [files[0].row.id, files[1].row.id];
    let mut groups: Vec<(String, Vec<Row>)> = Vec::new();
    let (settings, others): (Vec<&Difference>, Vec<&Difference>) = compared
        .differences
        .iter()
        .partition(|d| d.group == "setting");
    for difference in others {
        let name = group(&difference.group);
        match groups.iter_mut().find(|(known, _)| known == name) {
            Some((_, rows)) => rows.push(row(difference)),
            None => groups.push((name.to_string(), vec![row(difference)])),
        }
    }
    let owner = match (&to.case, &to.machine) {
        (Some(case), _) => Some((
            format!("{} {}", case.head().label, case.head().title),
            case.href(),
        )),
        (None, Some(machine)) => Some((machine.name.clone(), crate::urls::machine(machine.id))),
        (None, None) => None,
    };
    AgainstPage {
        names: ids.map(|id| (to.name_of(id), to.address(id, "", &[]))),
        owner,
        nothing: groups.is_empty() && settings.is_empty() && compared.by_height.is_empty(),
        groups,
        settings: settings.into_iter().map(row).collect(),
        by_height: stretches(compared),
        charts: charts(files, to.facts.settings.get(NumberId::FaultHeightMm)),
        trials_href: trials_href(ids, to),
        data_href: to.address(ids[0], &format!("/against/{}/data", ids[1]), &[]),
    }
}

/// A new series of these two files, for the case or the machine they were compared for.
fn trials_href([before, after]: [Uuid; 2], to: &For) -> String {
    let mut query = vec![format!("before={before}"), format!("after={after}")];
    query.extend(
        to.parameters()
            .into_iter()
            .map(|(name, value)| format!("{name}={value}")),
    );
    format!("{}/new?{}", urls::TRIALS, query.join("&"))
}

fn group(id: &str) -> &'static str {
    match id {
        "temperature" => "Temperatures",
        "cooling" => "Cooling",
        "flow" => "Flow",
        "speed" => "Speeds",
        "retraction" => "Retraction",
        "start" => "Start",
        "figure" => "The whole",
        _ => "Layers",
    }
}

/// Where by height, what, and the means of both.
fn stretches(compared: &Compared) -> Vec<(String, String, String)> {
    let all = compared.by_height.iter().map(|s| {
        let place = format!(
            "{} to {} mm",
            show::number(s.from_mm),
            show::number(s.to_mm)
        );
        let [before, after] = [s.before, s.after].map(|v| words::value(s.figure, v));
        (
            place,
            words::figure(s.figure).to_string(),
            format!("{before} → {after}"),
        )
    });
    all.collect()
}

fn charts(files: &[OpenFile; 2], fault: Option<f64>) -> Vec<String> {
    let readings = files.each_ref().map(|f| &f.reading);
    let tall = readings
        .iter()
        .flat_map(|r| &r.layers)
        .map(|l| l.z)
        .fold(0.0, f64::max);
    let steps = |reading: &Reading, figure: Figure| -> Vec<Step> {
        let layers = reading.layers.iter();
        layers
            .filter_map(|l| Some((l.z - l.height, l.z, figure.of(reading, l)?)))
            .collect()
    };
    let drawn = DRAWN.into_iter().map(|figure| {
        let [before, after] = readings.map(|r| steps(r, figure));
        let title = format!("{}, {}", words::figure(figure), figure.unit());
        svg(&ByHeight {
            title: &title,
            figure: figure.id(),
            steps: &after,
            most: &before,
            limit: None,
            tall,
            fault,
            at: -tall,
        })
    });
    drawn.collect()
}
