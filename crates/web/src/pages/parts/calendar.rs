//! Days as a calendar to subscribe to (RFC 5545).

use axum::http::header;
use axum::response::{IntoResponse, Response};
use time::macros::format_description;
use time::{Date, OffsetDateTime};

/// Something to be thought of on a day, or at a moment of it.
pub struct CalendarDay {
    /// What it is about: the same on every fetch.
    pub id: String,
    /// When that was last written.
    pub made: OffsetDateTime,
    pub day: Date,
    /// The moment, where it has one.
    pub at: Option<OffsetDateTime>,
    pub words: String,
    pub more: String,
    /// Where it is seen to.
    pub href: String,
}

/// The calendar of some days under a name.
pub fn calendar(name: &str, days: impl IntoIterator<Item = CalendarDay>) -> Response {
    let mut lines = vec![
        "BEGIN:VCALENDAR".to_string(),
        "VERSION:2.0".into(),
        "PRODID:-//Usual Suspect//EN".into(),
        format!("X-WR-CALNAME:{}", escaped(name)),
    ];
    lines.extend(days.into_iter().flat_map(event));
    lines.push("END:VCALENDAR".into());
    let text: String = lines.iter().map(|line| folded(line)).collect();
    let kind = [(header::CONTENT_TYPE, "text/calendar; charset=utf-8")];
    (kind, text).into_response()
}

/// How a moment is written.
fn stamp() -> &'static [time::format_description::BorrowedFormatItem<'static>] {
    format_description!("[year][month][day]T[hour][minute][second]Z")
}

fn event(of: CalendarDay) -> Vec<String> {
    let plain = format_description!("[year][month][day]");
    let day = of.day.format(plain).unwrap_or_default();
    let moment = |at: OffsetDateTime| {
        at.to_offset(time::UtcOffset::UTC)
            .format(stamp())
            .unwrap_or_default()
    };
    let begins = match of.at {
        Some(at) => format!("DTSTART:{}", moment(at)),
        None => format!("DTSTART;VALUE=DATE:{day}"),
    };
    vec![
        "BEGIN:VEVENT".into(),
        format!("UID:{}-{day}@usual-suspect", of.id),
        format!("DTSTAMP:{}", moment(of.made)),
        begins,
        format!("SUMMARY:{}", escaped(&of.words)),
        format!("DESCRIPTION:{}", escaped(&of.more)),
        format!("URL:{}", of.href),
        "END:VEVENT".into(),
    ]
}

/// Text as a calendar takes it (RFC 5545, 3.3.11).
fn escaped(text: &str) -> String {
    let mut out = String::new();
    for c in text.chars() {
        match c {
            '\\' | ';' | ',' => out.extend(['\\', c]),
            '\n' => out.push_str("\\n"),
            c if c.is_control() => {}
            c => out.push(c),
        }
    }
    out
}

/// A line with its end, folded at 75 bytes (RFC 5545, 3.1).
fn folded(line: &str) -> String {
    let (mut out, mut width) = (String::new(), 0);
    for c in line.chars() {
        if width + c.len_utf8() > 74 {
            out.push_str("\r\n ");
            width = 1;
        }
        out.push(c);
        width += c.len_utf8();
    }
    out + "\r\n"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_calendar_line_is_escaped_and_folded() {
        assert_eq!(escaped("a,b;c\\d\ne"), "a\\,b\\;c\\\\d\\ne");
        let long = folded(&"ä".repeat(60));
        assert!(long.split("\r\n").all(|l| l.len() <= 75));
        assert_eq!(long.replace("\r\n ", "").trim_end(), "ä".repeat(60));
    }
}
