//! Suspects: the list by family, and the dossier of one.

use crate::drawing::pictogram;
use crate::pages::Page;
use crate::pages::handbook::parts::{cause_link, finding_link, terms};
use crate::pages::open_case::Known;
use crate::pages::parts::link::Link;
use crate::pages::parts::schools::{self, SchoolLine};
use crate::pages::parts::work::{CautionView, cautions};
use crate::state::AppState;
use crate::words::learned::{cured_here, learned_here, shows_here};
use crate::words::outcome;
use crate::{show, urls};
use askama::Template;
use axum::extract::State;
use axum::response::Html;
use std::sync::Arc;
use suspect_core::dossier::{self, LookAlike, Telling};
use suspect_core::knowledge::{Cause, CauseId, Family, Knowledge, WEIGHTS};
use suspect_core::learning::Learned;

struct Member {
    href: String,
    name: String,
    plain: String,
    pictogram: String,
}

struct Members {
    title: &'static str,
    members: Vec<Member>,
}

#[derive(Template)]
#[template(path = "handbook/suspects.html")]
struct SuspectsPage {
    chapter: &'static str,
    families: Vec<Members>,
    total: usize,
}

/// `GET /suspects`
pub async fn list(State(knowledge): State<Arc<Knowledge>>) -> Page {
    let k = &*knowledge;
    let member = |c: &Cause| Member {
        href: urls::suspect(&c.id),
        name: c.name.clone(),
        plain: c.plain.clone(),
        pictogram: pictogram::svg(&c.pictogram),
    };
    let of_family = |family: Family| {
        let causes = k.causes.iter().filter(|c| c.family == family);
        Members {
            title: outcome::family(family),
            members: causes.map(member).collect(),
        }
    };
    let families = Family::ALL.into_iter().map(of_family);
    let families = families.filter(|f| !f.members.is_empty()).collect();
    Ok(Html(
        SuspectsPage {
            chapter: "suspects",
            families,
            total: k.causes.len(),
        }
        .render()?,
    ))
}

struct Sign {
    href: String,
    phrase: String,
    how_often: String,
    against_others: String,
    times: String,
}

struct CheckRow {
    href: String,
    name: String,
    minutes: String,
    guilty: String,
    share: String,
}

struct LookAlikeRow {
    other: Link,
    by: Link,
    this: String,
    that: String,
}

struct FixRow {
    href: String,
    name: String,
    kind: &'static str,
    minutes: String,
    chance: String,
    /// How it went here.
    here: Option<String>,
    steps: Vec<String>,
    cautions: Vec<CautionView>,
    schools: Vec<SchoolLine>,
    warranty: String,
}

#[derive(Template)]
#[template(path = "handbook/suspect.html")]
struct DossierPage {
    chapter: &'static str,
    name: String,
    plain: String,
    family: &'static str,
    pictogram: String,
    mechanism: String,
    clears: String,
    common: &'static str,
    ordinary: bool,
    signs: Vec<Sign>,
    alike: Vec<LookAlikeRow>,
    checks: Vec<CheckRow>,
    fixes: Vec<FixRow>,
    leads_to: Vec<Link>,
    follows_from: Vec<Link>,
    terms: Vec<Link>,
    records: String,
    /// What the shop's own cases say.
    here: Option<String>,
    /// How it shows in them.
    shows_here: Vec<String>,
}

/// `GET /suspects/{cause}`
pub async fn show(State(state): State<AppState>, Known(id): Known<CauseId>) -> Page {
    let k = &*state.knowledge;
    // The dossier is read without the shop's own numbers too.
    let learned = state.store.shop_learned(k, state.now()).await;
    let learned = learned.ok().flatten().map(|l| l.awake());
    let learned = learned.as_deref();
    let cause = k.cause(id);
    let link = |c: CauseId| Link {
        href: urls::suspect(&k.cause(c).id),
        name: k.cause(c).name.clone(),
    };
    let leads_to = k
        .cause_ids()
        .filter(|c| {
            k.cause(*c)
                .consequence_of
                .iter()
                .any(|(root, _)| *root == id)
        })
        .map(link)
        .collect();
    let page = DossierPage {
        chapter: "suspects",
        name: cause.name.clone(),
        plain: show::sentence(&cause.plain),
        family: outcome::family(cause.family),
        pictogram: pictogram::svg(&cause.pictogram),
        mechanism: cause.mechanism.clone(),
        clears: cause.clears.clone(),
        common: WEIGHTS
            .iter()
            .find(|(_, w)| *w == cause.weight)
            .map_or("", |(word, _)| word),
        ordinary: cause.family == Family::Normal,
        signs: dossier::signs(k, id)
            .into_iter()
            .map(|t| sign(k, t))
            .collect(),
        alike: dossier::mistaken_for(k, id)
            .into_iter()
            .map(|l| look_alike(k, l))
            .collect(),
        checks: dossier::checks(k, id)
            .into_iter()
            .map(|t| check(k, t))
            .collect(),
        fixes: fixes(k, id, learned),
        here: learned.and_then(|l| learned_here(l, id)),
        shows_here: learned.map_or_else(Vec::new, |l| shows_here(k, l, id)),
        leads_to,
        follows_from: cause.consequence_of.iter().map(|(c, _)| link(*c)).collect(),
        terms: terms(k, &cause.id),
        records: urls::records_of("cause", &cause.id),
    };
    Ok(Html(page.render()?))
}

fn sign(k: &Knowledge, t: Telling) -> Sign {
    Sign {
        href: finding_link(k, t.finding).href,
        phrase: show::capital(&k.finding(t.finding).states[t.state].phrase),
        how_often: show::percent(t.chance),
        against_others: show::percent(k.table.unlisted(t.finding)[t.state]),
        times: show::number((t.ratio * 10.0).round() / 10.0),
    }
}

fn check(k: &Knowledge, t: Telling) -> CheckRow {
    let work = k.finding(t.finding).check.map(|c| &k.check(c).work);
    let Link { href, name } = finding_link(k, t.finding);
    CheckRow {
        href,
        name,
        minutes: work.map_or_else(String::new, |w| show::minutes(w.minutes + w.waiting)),
        guilty: show::capital(&k.finding(t.finding).states[t.state].phrase),
        share: show::percent(t.chance),
    }
}

fn look_alike(k: &Knowledge, alike: LookAlike) -> LookAlikeRow {
    let phrase = |state: usize| k.finding(alike.by).states[state].phrase.clone();
    LookAlikeRow {
        other: cause_link(k, alike.other),
        by: finding_link(k, alike.by),
        this: phrase(alike.this_state),
        that: phrase(alike.other_state),
    }
}

fn fixes(k: &Knowledge, cause: CauseId, learned: Option<&Learned>) -> Vec<FixRow> {
    // Easy, involved, work-around; the order of the knowledge says which one a try "aimed at" the
    // cause means.
    let mut fixes = k.cause(cause).fixes.clone();
    fixes.sort_by_key(|x| k.fix(*x).kind as u8);
    fixes
        .iter()
        .map(|x| {
            let fix = k.fix(*x);
            FixRow {
                href: urls::handbook_fix(&fix.id),
                name: fix.work.name.clone(),
                kind: outcome::fix_kind(fix.kind),
                minutes: show::minutes(fix.work.minutes + fix.work.waiting),
                chance: show::percent(k.cure(*x, cause)),
                here: learned
                    .and_then(|l| l.cure(*x, cause))
                    .map(|cure| cured_here(&cure)),
                steps: fix.work.steps.iter().map(|s| s.text.clone()).collect(),
                cautions: cautions(k, &fix.work.cautions),
                schools: schools::of_fix(k, None, *x),
                warranty: fix.warranty.clone(),
            }
        })
        .collect()
}
