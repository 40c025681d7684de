//! The brief as a page and as a file, with the links that open the case to others.

use crate::pages::help::brief::{Brief, brief};
use crate::pages::help::markdown::markdown;
use crate::pages::open_case::OpenCase;
use crate::pages::parts::tag::{code, origin};
use crate::pages::{Answer, Page};
use crate::state::AppState;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::http::{HeaderMap, header};
use axum::response::{Html, IntoResponse};
use suspect_store::help_links::HelpLink;

struct LinkRow {
    token: String,
    /// The whole address, as it is sent to somebody elsewhere.
    address: String,
    /// The same for a telephone's camera.
    code: String,
    made: String,
}

#[derive(Template)]
#[template(path = "help/brief.html")]
struct BriefPage {
    case_href: String,
    brief: Brief,
    text: String,
    file_href: String,
    links: Vec<LinkRow>,
    link_action: String,
    revoke_action: String,
}

/// `GET /cases/{id}/brief`
pub async fn show(State(state): State<AppState>, case: OpenCase, headers: HeaderMap) -> Page {
    let analysis = case.analysis(&state).await;
    let brief = brief(&state, &case, &analysis);
    let links = state.store.help_links(case.id).await?;
    let page = BriefPage {
        case_href: case.href(),
        text: markdown(&brief)?,
        brief,
        file_href: case.below("brief.md"),
        links: links.into_iter().map(|l| link_row(&headers, l)).collect(),
        link_action: case.below("links"),
        revoke_action: case.below("links/revoke"),
    };
    Ok(Html(page.render()?))
}

fn link_row(headers: &HeaderMap, link: HelpLink) -> LinkRow {
    let address = format!("{}{}", origin(headers), urls::help(&link.token));
    let day = show::date(link.made_at);
    LinkRow {
        code: code(&address).unwrap_or_default(),
        address,
        token: link.token,
        made: match crate::screen::shown_of(link.by.as_deref()) {
            Some(by) => format!("{day} by {by}"),
            None => day,
        },
    }
}

/// `GET /cases/{id}/brief.md`
pub async fn file(State(state): State<AppState>, case: OpenCase) -> Answer {
    let analysis = case.analysis(&state).await;
    let text = markdown(&brief(&state, &case, &analysis))?;
    let label = show::case_label(case.row.number);
    let kind = "text/markdown; charset=utf-8".to_string();
    let name = format!("attachment; filename=\"{label}-brief.md\"");
    let headers = [
        (header::CONTENT_TYPE, kind),
        (header::CONTENT_DISPOSITION, name),
    ];
    Ok((headers, text).into_response())
}
