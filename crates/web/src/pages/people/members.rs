//! Who is a member, what each may do; invitations.

use super::invited::refused;
use super::noted::{self, Noted, note, you};
use crate::form::Fields;
use crate::page_error::PageError;
use crate::pages::parts::link::Choice;
use crate::pages::parts::tag::{code, origin};
use crate::pages::{Answer, Page};
use crate::people::secret::fresh;
use crate::state::AppState;
use crate::words::practice as practised;
use crate::{screen, show, urls};
use askama::Template;
use axum::extract::{Path, State};
use axum::http::HeaderMap;
use axum::response::{Html, IntoResponse, Redirect};
use suspect_core::people::{Changed, Deed, Role};
use suspect_store::Uuid;
use suspect_store::people::{Member, PeopleError, Station};
use suspect_store::practice::Wish;

struct Line {
    name: String,
    since: String,
    action: String,
    roles: Vec<Choice>,
    you: bool,
    /// Practice that whoever looks asked of them, and what of it they were shown.
    asked: Vec<String>,
}

#[derive(Template)]
#[template(path = "people/members.html")]
struct MembersPage {
    lines: Vec<Line>,
    left: usize,
    roles: Vec<(&'static str, &'static str, String)>,
    /// What the next one is invited as, unless somebody says otherwise.
    asked: &'static str,
    stations: Vec<(Uuid, String, String)>,
    /// What was changed lately.
    noted: Vec<Noted>,
    /// A link that was made just now, with its code.
    link: Option<(String, String)>,
}

/// What each role may, beside what those before may.
fn roles() -> Vec<(&'static str, &'static str, String)> {
    let of = |role: Role| {
        let deeds = Deed::ALL.into_iter().filter(|d| d.least() == role);
        let deeds: Vec<&str> = deeds.map(Deed::words).collect();
        (role.id(), role.words(), deeds.join("; "))
    };
    Role::ALL.map(of).to_vec()
}

/// What whoever looks asked of a member to practise.
fn asked(wishes: &[(Wish, bool)], member: &Member) -> Vec<String> {
    let owner = member.id.simple().to_string();
    let of = wishes.iter().filter(|(w, _)| w.owner == owner);
    let told = |(w, _): &(Wish, bool)| {
        let what = practised::asked(w.many, &w.level);
        let passed = w.passed.map(|n| practised::passed(n, w.many));
        let passed = passed.unwrap_or_else(|| "not shown to you".into());
        format!("{what}, {}: {passed}", w.reason)
    };
    of.map(told).collect()
}

fn line(member: &Member, you: Option<Uuid>, wishes: &[(Wish, bool)]) -> Line {
    let choice = |role: Role| Choice {
        value: role.id().into(),
        label: role.words().into(),
        chosen: role == member.role,
    };
    Line {
        name: member.name.clone(),
        since: show::date(member.made_at),
        action: format!("{}/{}", urls::PEOPLE, member.id),
        roles: Role::ALL.map(choice).into_iter().collect(),
        you: you == Some(member.id),
        asked: asked(wishes, member),
    }
}

async fn page(state: &AppState, link: Option<String>) -> Result<String, PageError> {
    let members = state.store.members().await?;
    let you = you();
    let present = members.iter().filter(|m| !m.left);
    let wishes = match screen::owner() {
        Some(owner) => state.store.wishes_by(&owner).await?,
        None => Vec::new(),
    };
    let page = MembersPage {
        left: members.len() - present.clone().count(),
        lines: present.clone().map(|m| line(m, you, &wishes)).collect(),
        asked: match present.clone().count() {
            0 => Role::Keeper.id(),
            _ => Role::Member.id(),
        },
        roles: roles(),
        stations: stations(state).await?,
        noted: noted::told(state).await?,
        link: link.map(|link| {
            let code = code(&link).unwrap_or_default();
            (link, code)
        }),
    };
    Ok(page.render()?)
}

/// Stations in use: number, name, since when.
async fn stations(state: &AppState) -> Result<Vec<(Uuid, String, String)>, PageError> {
    let all = state.store.stations().await?;
    let line = |s: Station| (s.id, s.name, show::date(s.made_at));
    Ok(all.into_iter().map(line).collect())
}

/// `GET /people`
pub async fn list(State(state): State<AppState>) -> Page {
    Ok(Html(page(&state, None).await?))
}

/// `POST /people`: an invitation; its link is shown once.
pub async fn invite(State(state): State<AppState>, headers: HeaderMap, fields: Fields) -> Answer {
    let role = Role::from_id(fields.get("role")).unwrap_or(Role::Member);
    linked(&state, &headers, (role, None)).await
}

/// Makes a link and shows it.
async fn linked(
    state: &AppState,
    headers: &HeaderMap,
    (role, member): (Role, Option<Uuid>),
) -> Answer {
    let secret = fresh();
    let made = state
        .store
        .invite(&secret, (role, member), you(), state.now());
    made.await.map_err(told)?;
    let what = if member.is_some() {
        Changed::Link
    } else {
        Changed::Invited
    };
    note(state, what, member, role.id()).await?;
    let link = format!("{}/invited/{secret}", origin(headers));
    Ok(Html(page(state, Some(link)).await?).into_response())
}

pub(super) fn told(e: PeopleError) -> PageError {
    match refused(e) {
        Ok(problem) => PageError::Refused {
            message: show::sentence(&problem.to_string()),
            back: urls::PEOPLE.into(),
        },
        Err(e) => e,
    }
}

/// `POST /people/{member}`: another role, a new link, the end of their sessions, leaving.
pub async fn change(
    State(state): State<AppState>,
    Path(id): Path<String>,
    headers: HeaderMap,
    fields: Fields,
) -> Answer {
    let id: Uuid = id.parse().map_err(|_| PageError::NotFound("member"))?;
    let store = &state.store;
    let done = match fields.get("say") {
        "link" => {
            let role = Role::Visitor;
            return linked(&state, &headers, (role, Some(id))).await;
        }
        "out" => (store.sign_out_everywhere(id).await, Changed::SignedOut, ""),
        "leave" => (store.leave(id, state.now()).await, Changed::Left, ""),
        _ => match Role::from_id(fields.get("role")) {
            Some(role) => (store.set_role(id, role).await, Changed::Role, role.id()),
            None => return Err(PageError::NotFound("role")),
        },
    };
    let (done, what, detail) = done;
    done.map_err(told)?;
    note(&state, what, Some(id), detail).await?;
    Ok(Redirect::to(urls::PEOPLE).into_response())
}
