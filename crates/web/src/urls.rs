//! Every link of the program.

use suspect_store::Uuid;

pub const FLOOR: &str = "/";
pub const NEW_CASE: &str = "/cases/new";
pub const CASES: &str = "/cases";
/// Closed cases that ask whether their fix held.
pub const AGAIN: &str = "/again";
/// The same as a calendar.
pub const AGAIN_FEED: &str = "/again.ics";
/// What is due on all machines, in walking order.
pub const ROUND: &str = "/round";
/// The same as a calendar.
pub const ROUND_FEED: &str = "/round.ics";
pub const KINDS: &str = "/kinds";
/// What needs hands now, and the plan of the evening.
pub const SHIFT: &str = "/shift";
/// Made-up cases and drills.
pub const PRACTICE: &str = "/practice";
pub const SIGN_IN: &str = "/sign-in";
/// The way in at a shared station.
pub const STATION: &str = "/station";
pub const PEOPLE: &str = "/people";
pub const SPOOLS: &str = "/spools";
pub const STOCK: &str = "/stock";
pub const RECORDS: &str = "/records";
pub const OWN_WORDS: &str = "/records/own";
pub const SUSPECTS: &str = "/suspects";
pub const SIGNS: &str = "/handbook/signs";
pub const CHECKS: &str = "/handbook/checks";
pub const FIXES: &str = "/handbook/fixes";
pub const CAUTIONS: &str = "/handbook/cautions";
pub const MATERIALS: &str = "/handbook/materials";
pub const SCHOOLS: &str = "/handbook/schools";
pub const WORDS: &str = "/handbook/words";
pub const MEASURES: &str = "/handbook/measures";
pub const BENCH: &str = "/bench";
pub const WORKSHOP: &str = "/workshop";

pub fn new_case_on(machine: Uuid) -> String {
    format!("{NEW_CASE}?machine={machine}")
}

/// A machine: its state, its open cases, its log.
pub fn machine(id: Uuid) -> String {
    format!("/machines/{id}")
}

/// A page or action below a machine: `edit`, `service`.
pub fn in_machine(id: Uuid, what: &str) -> String {
    format!("/machines/{id}/{what}")
}

/// A stop of how a machine is built.
pub fn machine_stop(id: Uuid, stop: &str) -> String {
    format!("/machines/{id}/stop/{stop}")
}

/// What to look at before a print on a machine.
pub fn before(machine: Uuid) -> String {
    format!("/machines/{machine}/before")
}

/// A print file: what it does by height.
pub fn print_file(id: Uuid) -> String {
    format!("/files/{id}")
}

pub fn case(id: Uuid) -> String {
    format!("{CASES}/{id}")
}

/// A page or action below a case: `facts`, `close`, `check/pulley-mark`.
pub fn in_case(id: Uuid, what: &str) -> String {
    format!("{CASES}/{id}/{what}")
}

/// The case with a suspect's ledger opened.
pub fn case_suspect(id: Uuid, cause: &str) -> String {
    format!("{CASES}/{id}?suspect={cause}")
}

/// Why a suspect stands where it stands, on a card.
pub fn why(case: Uuid, cause: &str) -> String {
    format!("{CASES}/{case}/why/{cause}")
}

/// Where practice differs in one matter.
pub fn school(id: &str) -> String {
    format!("{SCHOOLS}#{id}")
}

pub fn fix(fix: &str) -> String {
    format!("{FIXES}/{fix}")
}

/// A kind of machine.
pub fn kind(kind: &str) -> String {
    format!("{KINDS}/{kind}")
}

/// A place of ours that somebody sent to be led to; the floor where it is another site.
pub fn ours(given: &str) -> String {
    let odd = given.starts_with("//") || given.contains(['\\', '\n', '\r', '\t']);
    match given.starts_with('/') && !odd {
        true => given.to_string(),
        false => FLOOR.to_string(),
    }
}

/// A thing in stock.
pub fn in_stock(id: Uuid) -> String {
    format!("{STOCK}/{id}")
}

/// A spool of filament.
pub fn spool(id: Uuid) -> String {
    format!("{SPOOLS}/{id}")
}

pub fn suspect(cause: &str) -> String {
    format!("{SUSPECTS}/{cause}")
}

pub fn sign(finding: &str) -> String {
    format!("{SIGNS}/{finding}")
}

pub fn handbook_check(check: &str) -> String {
    format!("{CHECKS}/{check}")
}

pub fn handbook_fix(fix: &str) -> String {
    format!("{FIXES}/{fix}")
}

/// Taking a case in: a part (`print`, `machine` …) and a place in it; empty ones are left out.
pub fn intake(id: Uuid, part: &str, place: &str) -> String {
    let mut address = format!("{CASES}/{id}/intake");
    for (n, (name, value)) in [("part", part), ("at", place)]
        .into_iter()
        .filter(|(_, v)| !v.is_empty())
        .enumerate()
    {
        let value: String = form_urlencoded::byte_serialize(value.as_bytes()).collect();
        address.push_str(&format!("{}{name}={value}", if n == 0 { '?' } else { '&' }));
    }
    address
}

pub fn picture(case: Uuid, picture: &str) -> String {
    format!("{CASES}/{case}/pictures/{picture}")
}

/// A case as a helper elsewhere sees it.
pub fn help(token: &str) -> String {
    format!("/help/{token}")
}

/// A measure of the bench.
pub fn measure(id: &str) -> String {
    format!("{BENCH}/{id}")
}

/// An address with parameters behind it; those that are empty are left out.
pub fn with(address: &str, parameters: &[(&str, String)]) -> String {
    let mut query = form_urlencoded::Serializer::new(String::new());
    for (name, value) in parameters.iter().filter(|(_, v)| !v.is_empty()) {
        query.append_pair(name, value);
    }
    match query.finish() {
        query if query.is_empty() => address.to_string(),
        query => format!("{address}?{query}"),
    }
}

/// Closed cases of a cause, a fix, a sign.
pub fn records_of(what: &str, id: &str) -> String {
    with(RECORDS, &[(what, id.to_string())])
}

/// A measure in the handbook: how it is reckoned.
pub fn handbook_measure(id: &str) -> String {
    format!("{MEASURES}/{id}")
}

/// Trial series and test pieces.
pub const TRIALS: &str = "/trials";
/// Test pieces.
pub const PIECES: &str = "/pieces";

/// A trial series: what is known, the next piece.
pub fn series(id: Uuid) -> String {
    format!("{TRIALS}/{id}")
}

/// A test piece: its drawing, its reading sheet.
pub fn piece(id: &str) -> String {
    format!("{PIECES}/{id}")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_way_on_never_leads_to_another_site() {
        assert_eq!(ours("/cases/x?part=words"), "/cases/x?part=words");
        for foreign in ["//evil", "https://evil", "/\\evil", "evil", "", "/a\nb"] {
            assert_eq!(ours(foreign), "/", "{foreign}");
        }
    }
}
