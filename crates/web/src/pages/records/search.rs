//! What records are asked for: the address, the form, and the way from one to another.

use crate::form::midnight;
use crate::pages::parts::link::Choice;
use crate::words::{outcome, work};
use crate::{show, urls};
use std::collections::BTreeMap;
use suspect_core::case::Outcome;
use suspect_core::knowledge::{Finding, Knowledge, Section};
use suspect_core::planning::{Workshop, odd};
use suspect_store::Uuid;
use suspect_store::machines::Machine;
use suspect_store::records::{RecordFilter, SortBy};
use time::{Duration, OffsetDateTime};

/// Pages a link may lead to.
const MOST_PAGES: u64 = 100_000;
/// What the list can be narrowed by.
const FILTERS: [&str; 11] = [
    "q", "machine", "kind", "cause", "fix", "sign", "outcome", "material", "from", "to", "month",
];
/// Orders by their name in an address.
const SORTS: [(&str, SortBy); 9] = [
    ("closed", SortBy::Closed),
    ("opened", SortBy::Opened),
    ("number", SortBy::Number),
    ("minutes", SortBy::Minutes),
    ("grams", SortBy::Grams),
    ("money", SortBy::Money),
    ("cause", SortBy::Cause),
    ("fix", SortBy::Fix),
    ("outcome", SortBy::Outcome),
];

/// What a link asks for.
pub struct Asked(BTreeMap<String, String>);

impl Asked {
    /// Reads an address.
    pub fn read(query: BTreeMap<String, String>) -> Self {
        Self(query)
    }

    fn get(&self, name: &str) -> Option<&str> {
        let value = self.0.get(name).map(|v| v.trim());
        value.filter(|v| !v.is_empty())
    }

    /// Whether anything narrows the list.
    pub fn narrowed(&self) -> bool {
        FILTERS.iter().any(|n| self.get(n).is_some())
    }

    /// What is asked of the store. A filter of a mistyped link matches nothing rather than
    /// everything.
    pub fn filter(&self, k: &Knowledge, workshop: &Workshop, all: &[Machine]) -> RecordFilter {
        let known = |cause: &str| {
            let own = workshop.own_links.iter();
            let own = own
                .filter(|(_, id)| *id == cause)
                .map(|(own, _)| own.clone());
            [cause.to_string()].into_iter().chain(own).collect()
        };
        let (from, to) = self.span();
        RecordFilter {
            machines: self.machines(all),
            causes: self.get("cause").map(known).unwrap_or_default(),
            fix: self.get("fix").map(str::to_string),
            outcome: self.get("outcome").map(str::to_string),
            material: self.get("material").map(str::to_string),
            answers: self.get("sign").map(|s| answers(k, s)).unwrap_or_default(),
            from,
            to,
            words: self.get("q").map(str::to_string),
            sort: self.sort(),
            upwards: self.upwards(),
        }
    }

    fn machines(&self, all: &[Machine]) -> Vec<Uuid> {
        let of_kind = |kind: &str| -> Vec<Uuid> {
            let of = all.iter().filter(|m| m.model == kind);
            of.map(|m| m.id).collect()
        };
        let asked = match (self.get("machine"), self.get("kind")) {
            (Some(machine), _) => machine.parse().ok().into_iter().collect(),
            (None, Some(kind)) => of_kind(kind),
            (None, None) => return Vec::new(),
        };
        match asked.is_empty() {
            true => vec![Uuid::max()],
            false => asked,
        }
    }

    /// From when and to when; with `month` only the month that begins it.
    fn span(&self) -> (Option<OffsetDateTime>, Option<OffsetDateTime>) {
        let day = |name| self.get(name).and_then(midnight);
        let from = day("from");
        let month = from.filter(|_| self.get("month").is_some());
        let end = month.map(|from| {
            let long = time::util::days_in_month(from.month(), from.year());
            from + Duration::days(i64::from(long))
        });
        let to = day("to").map(|day| day + Duration::days(1));
        (from, end.or(to))
    }

    /// By what it is sorted.
    pub fn sort(&self) -> SortBy {
        let asked = self.get("sort");
        let known = SORTS.iter().find(|(id, _)| Some(*id) == asked);
        known.map(|(_, by)| *by).unwrap_or_default()
    }

    /// Whether the least stands first.
    pub fn upwards(&self) -> bool {
        self.get("way") == Some("up")
    }

    /// Which page.
    pub fn page(&self) -> u64 {
        let page = self.get("page").and_then(|p| p.parse().ok());
        page.unwrap_or(0).min(MOST_PAGES)
    }

    fn address(&self, besides: &[&str], more: &[(&str, String)]) -> String {
        let kept = FILTERS.iter().chain(&["sort", "way"]);
        let kept = kept.filter(|name| !besides.contains(*name));
        let kept = kept.filter_map(|n| Some((*n, self.get(n)?.to_string())));
        let all: Vec<(&str, String)> = kept.chain(more.iter().cloned()).collect();
        urls::with(urls::RECORDS, &all)
    }

    /// The same on another page.
    pub fn turn(&self, to: u64) -> String {
        self.address(&[], &[("page", to.to_string())])
    }

    /// The same narrowed by one thing more.
    pub fn narrower(&self, name: &str, value: &str) -> String {
        self.address(&[name], &[(name, value.to_string())])
    }

    /// The same sorted by something; what it is sorted by already, the other way round.
    pub fn sorted(&self, by: SortBy) -> String {
        let name = SORTS
            .iter()
            .find(|(_, b)| *b == by)
            .map_or("", |(id, _)| id);
        let turned = self.sort() == by && !self.upwards();
        let way = if turned { "up" } else { "" };
        let more = [("sort", name.to_string()), ("way", way.to_string())];
        self.address(&["sort", "way"], &more)
    }
}

/// The answers that show a sign: every state that is not what one sees when all is well.
fn answers(k: &Knowledge, sign: &str) -> Vec<(String, String)> {
    let none = || vec![(sign.to_string(), String::new())];
    let Some(finding) = k.finding_id(sign).map(|f| k.finding(f)) else {
        return none();
    };
    let states = finding.states.iter().enumerate();
    let shown = states.filter(|(at, _)| odd(finding, *at));
    shown
        .map(|(_, s)| (sign.to_string(), s.id.clone()))
        .collect()
}

/// The form above the list.
pub struct Search {
    pub q: String,
    pub from: String,
    pub to: String,
    pub machines: Vec<Choice>,
    pub kinds: Vec<Choice>,
    pub causes: Vec<Choice>,
    pub fixes: Vec<Choice>,
    pub signs: Vec<Choice>,
    pub outcomes: Vec<Choice>,
    pub materials: Vec<Choice>,
    /// The sort, carried along.
    pub sort: String,
    pub way: String,
    /// Something seldom asked for is: it is not folded away.
    pub open: bool,
}

impl Search {
    /// The form as it stands.
    pub fn of(
        k: &Knowledge,
        asked: &Asked,
        workshop: &Workshop,
        machines: &[Machine],
        causes: Vec<(String, i64)>,
    ) -> Self {
        let given = |name: &str| asked.get(name).unwrap_or("").to_string();
        let chosen = |name: &str, value: &str| asked.get(name) == Some(value);
        let choice = |name: &str, value: &str, label: String| Choice {
            chosen: chosen(name, value),
            value: value.to_string(),
            label,
        };
        let cause =
            |(id, n): (String, i64)| choice("cause", &id, format!("{} ({n})", work::cause(k, &id)));
        let mut kinds: Vec<&str> = machines.iter().map(|m| m.model.as_str()).collect();
        kinds.sort_unstable();
        kinds.dedup();
        let machine = |m: &Machine| choice("machine", &m.id.to_string(), m.name.clone());
        let looked = |f: &&Finding| matches!(f.section, Section::Print | Section::Machine);
        let sign = |f: &Finding| choice("sign", &f.id, show::capital(&f.plain));
        let outcome = |o: Outcome| choice("outcome", o.id(), show::capital(outcome::outcome(o)));
        Self {
            q: given("q"),
            from: given("from"),
            to: given("to"),
            machines: machines.iter().map(machine).collect(),
            kinds: kinds
                .into_iter()
                .filter(|kind| !kind.is_empty())
                .map(|kind| choice("kind", kind, kind.to_string()))
                .collect(),
            causes: counted(workshop, causes).into_iter().map(cause).collect(),
            fixes: k
                .fixes
                .iter()
                .map(|x| choice("fix", &x.id, x.work.name.clone()))
                .collect(),
            signs: k.findings.iter().filter(looked).map(sign).collect(),
            outcomes: Outcome::ALL.into_iter().map(outcome).collect(),
            materials: k
                .materials
                .iter()
                .map(|m| choice("material", &m.id, m.id.to_uppercase()))
                .collect(),
            sort: given("sort"),
            way: given("way"),
            open: ["kind", "fix", "sign", "material", "from", "to"]
                .iter()
                .any(|name| asked.get(name).is_some()),
        }
    }
}

/// How often each cause was what it was; one in own words that is known by now counts as that one.
fn counted(workshop: &Workshop, recorded: Vec<(String, i64)>) -> Vec<(String, i64)> {
    let mut counted: Vec<(String, i64)> = Vec::new();
    for (id, many) in recorded {
        let id = workshop.own_links.get(&id).cloned().unwrap_or(id);
        match counted.iter_mut().find(|(known, _)| *known == id) {
            Some((_, there)) => *there += many,
            None => counted.push((id, many)),
        }
    }
    counted
}
