//! What the figures are asked for: a machine, a kind, a span of months.

use crate::urls;
use std::collections::BTreeMap;
use suspect_store::Uuid;
use suspect_store::lessons::figures::FigureFilter;
use suspect_store::machines::Machine;
use time::{Duration, OffsetDateTime, UtcOffset};

/// Spans of months one may choose.
pub const SPANS: [(&str, &str); 4] = [
    ("3", "Three months"),
    ("12", "A year"),
    ("24", "Two years"),
    ("all", "All the time"),
];
/// Days of a month on the mean.
const MONTH_DAYS: f64 = 30.44;

/// What is asked for.
pub struct Asked {
    pub machine: Option<Uuid>,
    pub kind: Option<String>,
    pub span: &'static str,
    /// First day of the first month.
    pub from: Option<String>,
}

impl Asked {
    /// Reads an address; what is mistyped counts as not asked for.
    pub fn read(query: &BTreeMap<String, String>, now: OffsetDateTime) -> Self {
        let get = |name: &str| query.get(name).filter(|v| !v.is_empty());
        let span = get("span").and_then(|s| SPANS.iter().find(|(id, _)| id == s));
        let span = span.map_or("12", |(id, _)| id);
        let months: Option<f64> = span.parse().ok();
        let from = months.map(|many| {
            let first = now.to_offset(UtcOffset::UTC) - Duration::days((many * MONTH_DAYS) as i64);
            format!("{:04}-{:02}-01", first.year(), u8::from(first.month()))
        });
        Self {
            machine: get("machine").and_then(|m| m.parse().ok()),
            kind: get("kind").cloned(),
            span,
            from,
        }
    }

    /// The machines asked for; of a kind nobody has there is none, which matches nothing.
    pub fn filter(&self, machines: &[Machine]) -> FigureFilter {
        let of_kind = |kind: &String| {
            let of = machines.iter().filter(|m| m.model == *kind).map(|m| m.id);
            let of: Vec<Uuid> = of.collect();
            match of.is_empty() {
                true => vec![Uuid::max()],
                false => of,
            }
        };
        FigureFilter {
            machines: match (self.machine, &self.kind) {
                (Some(machine), _) => vec![machine],
                (None, Some(kind)) => of_kind(kind),
                (None, None) => Vec::new(),
            },
            from: self.from.clone(),
        }
    }

    /// The closed cases behind a figure.
    pub fn records(&self, more: &[(&str, &str)]) -> String {
        let own = [
            ("machine", self.machine.map(|m| m.to_string())),
            ("kind", self.kind.clone().filter(|_| self.machine.is_none())),
            ("from", self.from.clone()),
        ];
        let own = own.into_iter().filter_map(|(name, v)| Some((name, v?)));
        let more = more.iter().map(|(name, v)| (*name, v.to_string()));
        urls::with(urls::RECORDS, &own.chain(more).collect::<Vec<_>>())
    }
}
