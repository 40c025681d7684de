//! What each form does, as far as rights go: one table. A form that stands nowhere here is for
//! keepers.

use axum::http::Method;
use suspect_core::knowledge::Knowledge;
use suspect_core::people::{Deed, Needs};

/// Pages that are read without signing in: the way in, and what helpers have a link to.
pub const OPEN: [&str; 12] = [
    "/sign-in",
    "/station",
    "/feeds/{secret}/mine.atom",
    "/feeds/{secret}/floor.atom",
    "/feeds/{secret}/waits.ics",
    "/feeds/{secret}/due.ics",
    "/feeds/{secret}/again.ics",
    "/sign-out",
    "/invited/{secret}",
    "/help/{token}",
    "/help/{token}/suggest",
    "/help/{token}/pictures/{picture}/{size}",
];

/// Pages that only some may read.
const READ: [(&str, Deed); 4] = [
    ("/people", Deed::Keep),
    ("/records/backup.zip", Deed::Keep),
    ("/records/log.jsonl", Deed::Keep),
    ("/records/exchange", Deed::Keep),
];

/// What forms do, by address.
const FORMS: [(&str, Deed); 107] = [
    ("/bench/temperature-trace", Deed::Read),
    ("/bench/tone", Deed::Read),
    ("/cases", Deed::Tell),
    ("/cases/{id}/aside", Deed::Work),
    ("/cases/{id}/bench/{measure}", Deed::Work),
    ("/cases/{id}/beside", Deed::Work),
    ("/cases/{id}/build", Deed::Tell),
    ("/cases/{id}/carry", Deed::Tell),
    ("/cases/{id}/check/{check}", Deed::Work),
    ("/cases/{id}/clear", Deed::Work),
    ("/cases/{id}/close", Deed::Close),
    ("/cases/{id}/facts", Deed::Tell),
    ("/cases/{id}/files", Deed::Tell),
    ("/cases/{id}/files/{file}/take", Deed::Tell),
    ("/cases/{id}/fitted", Deed::Machine),
    ("/cases/{id}/fix/{fix}", Deed::Machine),
    ("/cases/{id}/follows-spool", Deed::Tell),
    ("/cases/{id}/height", Deed::Tell),
    ("/cases/{id}/held", Deed::Work),
    ("/cases/{id}/hours", Deed::Work),
    ("/cases/{id}/join", Deed::Close),
    ("/cases/{id}/learning", Deed::Rate),
    ("/cases/{id}/leave", Deed::Work),
    ("/cases/{id}/links", Deed::Tell),
    ("/cases/{id}/links/revoke", Deed::Tell),
    ("/cases/{id}/lost", Deed::Tell),
    ("/cases/{id}/move", Deed::Close),
    ("/cases/{id}/note", Deed::Tell),
    ("/cases/{id}/numbers", Deed::Tell),
    ("/cases/{id}/observe", Deed::Tell),
    ("/cases/{id}/other", Deed::Machine),
    ("/cases/{id}/parts", Deed::Work),
    ("/cases/{id}/pass", Deed::Tell),
    ("/cases/{id}/pictures", Deed::Tell),
    ("/cases/{id}/pictures/{picture}/marks", Deed::Tell),
    ("/cases/{id}/put-back", Deed::Work),
    ("/cases/{id}/reopen", Deed::Close),
    ("/cases/{id}/rest", Deed::Tell),
    ("/cases/{id}/retract", Deed::Work),
    ("/cases/{id}/same", Deed::Tell),
    ("/cases/{id}/shortly", Deed::Tell),
    ("/cases/{id}/stop/{stop}", Deed::LiftStop),
    ("/cases/{id}/struck", Deed::Tell),
    ("/cases/{id}/take-up", Deed::Work),
    ("/cases/{id}/tell", Deed::Tell),
    ("/cases/{id}/timer", Deed::Work),
    ("/cases/{id}/tried", Deed::Tell),
    ("/cases/{id}/values", Deed::Tell),
    ("/cases/{id}/verify", Deed::Work),
    ("/cases/{id}/weigh", Deed::Work),
    ("/files/{file}/from/{spool}", Deed::Work),
    ("/files/{file}/remove", Deed::Machine),
    ("/kinds", Deed::Machine),
    ("/kinds/{kind}", Deed::Machine),
    ("/machines", Deed::Machine),
    ("/machines/{id}/before", Deed::Work),
    ("/machines/{id}/bench/{measure}", Deed::Work),
    ("/machines/{id}/commission", Deed::Machine),
    ("/machines/{id}/devices", Deed::Machine),
    ("/machines/{id}/edit", Deed::Machine),
    ("/machines/{id}/files", Deed::Work),
    ("/machines/{id}/journal", Deed::Machine),
    ("/machines/{id}/kept", Deed::Work),
    ("/machines/{id}/learning", Deed::Rate),
    ("/machines/{id}/service", Deed::Machine),
    ("/me", Deed::Read),
    ("/me/nobody", Deed::Read),
    ("/me/feeds", Deed::Read),
    ("/me/passphrase", Deed::Read),
    ("/me/pin", Deed::Read),
    ("/me/sessions", Deed::Read),
    ("/people", Deed::Keep),
    ("/people/stations", Deed::Keep),
    ("/people/stations/{station}", Deed::Keep),
    ("/people/{member}", Deed::Keep),
    ("/pieces/{piece}", Deed::Work),
    ("/practice", Deed::Read),
    ("/practice/cases/{id}", Deed::Read),
    ("/practice/drills", Deed::Read),
    ("/practice/forget", Deed::Read),
    ("/practice/past/{case}", Deed::Read),
    ("/practice/wishes", Deed::Rate),
    ("/practice/wishes/answer", Deed::Read),
    ("/records/exchange", Deed::Keep),
    ("/records/exchange/take", Deed::Keep),
    ("/records/own", Deed::Rate),
    ("/shift", Deed::Work),
    ("/shift/end", Deed::Work),
    ("/shift/say", Deed::Work),
    ("/sign-in", Deed::Read),
    ("/sign-out", Deed::Read),
    ("/station", Deed::Read),
    ("/spools", Deed::Work),
    ("/spools/{spool}", Deed::Work),
    ("/stock", Deed::Work),
    ("/stock/{thing}", Deed::Work),
    ("/trials", Deed::Work),
    ("/trials/{series}/aim", Deed::Work),
    ("/trials/{series}/differences", Deed::Work),
    ("/trials/{series}/finish", Deed::Machine),
    ("/trials/{series}/photo", Deed::Work),
    ("/trials/{series}/pieces", Deed::Work),
    ("/trials/{series}/pieces/{piece}", Deed::Work),
    ("/trials/{series}/pieces/{piece}/photo", Deed::Work),
    ("/trials/{series}/retract", Deed::Work),
    ("/invited/{secret}", Deed::Read),
    ("/workshop", Deed::Rate),
];

/// Whether an address is served to whoever comes.
pub fn open(pattern: &str) -> bool {
    OPEN.contains(&pattern)
}

/// What a request does. `pattern` is the address as the routes have it, `path` as it was sent.
pub fn deed(k: &Knowledge, method: &Method, pattern: &str, path: &str) -> Deed {
    if method.is_safe() {
        let some = READ.iter().find(|(known, _)| *known == pattern);
        return some.map_or(Deed::Read, |(_, deed)| *deed);
    }
    let last = path.rsplit('/').next().unwrap_or_default();
    match FORMS.iter().find(|(known, _)| *known == pattern) {
        Some(("/cases/{id}/fix/{fix}", deed)) => {
            k.fix_id(last).map_or(*deed, |fix| Needs::fix(k, fix).deed)
        }
        Some(("/cases/{id}/check/{check}", deed)) => k
            .check_id(last)
            .map_or(*deed, |check| Needs::check(k, check).deed),
        Some((_, deed)) => *deed,
        None => Deed::Keep,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use suspect_core::knowledge::FixKind;

    /// Every address that takes a form, read from the routes themselves.
    #[test]
    fn every_form_stands_in_the_table_and_nothing_else_does() {
        let routes = concat!(
            include_str!("../routes.rs"),
            include_str!("../routes/people.rs"),
            include_str!("../routes/practice.rs")
        );
        let taken: Vec<&str> = routes
            .split(".route(")
            .skip(1)
            .filter(|route| {
                let end = route.find(".route(").unwrap_or(route.len());
                route[..end].contains("post(")
            })
            .filter_map(|route| route.split('"').nth(1))
            .collect();
        let open_only = ["/help/{token}/suggest"];
        for path in &taken {
            let known = FORMS.iter().any(|(p, _)| p == path) || open_only.contains(path);
            assert!(known, "{path} takes a form: who may send it?");
        }
        for (path, _) in FORMS {
            assert!(taken.contains(&path), "{path} takes no form");
        }
    }

    #[test]
    fn an_easy_fix_is_a_volunteers_and_an_unknown_form_a_keepers() {
        let k = Knowledge::shipped();
        let fix = |kind: FixKind| k.fixes.iter().find(|f| f.kind == kind).unwrap();
        let of = |id: &str| {
            let path = format!("/cases/1/fix/{id}");
            deed(&k, &Method::POST, "/cases/{id}/fix/{fix}", &path)
        };
        assert_eq!(of(&fix(FixKind::Easy).id), Deed::Work);
        assert_eq!(of(&fix(FixKind::Involved).id), Deed::Machine);
        assert_eq!(of("no-fix"), Deed::Machine);
        assert_eq!(
            deed(&k, &Method::POST, "/new-form", "/new-form"),
            Deed::Keep
        );
        assert_eq!(deed(&k, &Method::GET, "/people", "/people"), Deed::Keep);
    }
}
