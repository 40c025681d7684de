//! Where practice differs: the sides, when each applies, what it costs and risks.

use crate::pages::Page;
use crate::pages::handbook::parts::{finding_link, fix_link};
use crate::pages::parts::link::Link;
use crate::state::AppState;
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use suspect_core::knowledge::{Knowledge, School, Side};

struct SideView {
    name: String,
    when: String,
    costs: String,
    risks: String,
    ways: Vec<Link>,
    own: bool,
}

struct SchoolView {
    id: String,
    title: String,
    why: String,
    sides: Vec<SideView>,
}

#[derive(Template)]
#[template(path = "handbook/schools.html")]
struct SchoolsPage {
    chapter: &'static str,
    schools: Vec<SchoolView>,
}

/// `GET /handbook/schools`
pub async fn show(State(state): State<AppState>) -> Page {
    let k = &state.knowledge;
    let (workshop, _) = state.workshop().await?;
    let view = |s: &School| SchoolView {
        id: s.id.clone(),
        title: s.title.clone(),
        why: s.why.clone(),
        sides: s
            .sides
            .iter()
            .map(|side| side_view(k, side, workshop.sides.get(&s.id) == Some(&side.id)))
            .collect(),
    };
    let page = SchoolsPage {
        chapter: "schools",
        schools: k.schools.iter().map(view).collect(),
    };
    Ok(Html(page.render()?))
}

fn side_view(k: &Knowledge, side: &Side, own: bool) -> SideView {
    let checks = side.checks.iter();
    let checks = checks.map(|c| finding_link(k, k.check(*c).finding));
    let fixes = side.fixes.iter().map(|x| fix_link(k, *x));
    SideView {
        name: side.name.clone(),
        when: side.when.clone(),
        costs: side.costs.clone(),
        risks: side.risks.clone(),
        ways: fixes.chain(checks).collect(),
        own,
    }
}
