//! How numbers, shares, units and dates look, once. A number never parts from its unit at the end
//! of a line.

use time::OffsetDateTime;

/// "46 %", "under 1 %", "over 99 %".
pub fn percent(p: f64) -> String {
    let hundredths = p * 100.0;
    if p <= 0.0 {
        "0\u{a0}%".into()
    } else if hundredths < 1.0 {
        "under 1\u{a0}%".into()
    } else if hundredths > 99.0 && hundredths < 100.0 {
        "over 99\u{a0}%".into()
    } else {
        format!("{hundredths:.0}\u{a0}%")
    }
}

/// Decibans with sign: "+5.1", "−1.2", "0.0".
pub fn decibans(d: f64) -> String {
    let rounded = (d * 10.0).round() / 10.0;
    if rounded > 0.0 {
        format!("+{rounded:.1}")
    } else if rounded < 0.0 {
        format!("−{:.1}", -rounded)
    } else {
        "0.0".into()
    }
}

/// "11 min", "1 h 20 min".
pub fn minutes(m: f64) -> String {
    let whole = m.round() as i64;
    if whole < 120 {
        return format!("{whole}\u{a0}min");
    }
    match (whole / 60, whole % 60) {
        (h, 0) => format!("{h}\u{a0}h"),
        (h, m) => format!("{h}\u{a0}h {m}\u{a0}min"),
    }
}

/// "38 g".
pub fn grams(g: f64) -> String {
    format!("{g:.0}\u{a0}g")
}

/// "2.50 €"; nothing where nothing was spent.
pub fn money(amount: f64, currency: &str) -> Option<String> {
    (amount > 0.0).then(|| {
        format!("{amount:.2}\u{a0}{currency}")
            .trim_end()
            .to_string()
    })
}

/// A number without needless noughts: "240", "0.2".
pub fn number(value: f64) -> String {
    let text = format!("{value:.3}");
    text.trim_end_matches('0').trim_end_matches('.').to_string()
}

/// A day as it stands in the name of a file: "2026-11-27".
pub fn file_day(at: OffsetDateTime) -> String {
    at.date().to_string()
}

/// A number to one decimal: "2.5".
pub fn tenths(value: f64) -> String {
    number((value * 10.0).round() / 10.0)
}

/// A number to two decimals, always written: "0.30".
pub fn hundredths(value: f64) -> String {
    format!("{value:.2}")
}

/// A number to one decimal with its sign: "+1.2", "−0.4".
pub fn signed(value: f64) -> String {
    format!("{value:+.1}").replace('-', "\u{2212}")
}

/// A month by its year and number: "2026-11" is "Nov 2026".
pub fn month(month: &str) -> String {
    const NAMES: [&str; 12] = [
        "Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec",
    ];
    let parts = month.split_once('-');
    let named = parts.and_then(|(year, n)| {
        let name = NAMES.get(n.parse::<usize>().ok()?.checked_sub(1)?)?;
        Some(format!("{name} {year}"))
    });
    named.unwrap_or_else(|| month.to_string())
}

/// A number with its unit, where it has one: "0.2 mm", "1.05".
/// Temperatures are told in whole degrees: nobody reads a nozzle to a tenth.
pub fn with_unit(value: f64, unit: &str) -> String {
    let value = if unit == "°C" { value.round() } else { value };
    format!("{} {unit}", number(value)).trim_end().to_string()
}

/// A sentence in which no number parts from its unit at the end of a line.
pub fn keep_units(text: &str) -> String {
    [" °C", " mm", " min", " %", " g ", " h "]
        .iter()
        .fold(text.to_string(), |t, unit| {
            t.replace(unit, &unit.replacen(' ', "\u{a0}", 1))
        })
}

/// Days: "one day", "2.5 days".
pub fn days(days: f64) -> String {
    match number(days).as_str() {
        "1" => "one day".into(),
        many => format!("{many}\u{a0}days"),
    }
}

/// A number with all the decimals it has, for fields that are sent back: "0.1234".
pub fn exact(value: f64) -> String {
    format!("{value}")
}

/// A moment in the workshop's time zone.
fn here(at: OffsetDateTime) -> jiff::ZonedDateTime {
    let moment = jiff::Timestamp::from_second(at.unix_timestamp()).unwrap_or_default();
    moment.to_zoned_datetime(crate::screen::zone())
}

/// A day as a field of a form holds it, "2026-11-27", in the workshop's time zone.
pub fn form_day(at: OffsetDateTime) -> String {
    here(at).strftime("%Y-%m-%d").to_string()
}

/// "14:05", in the workshop's time zone.
pub fn clock(at: OffsetDateTime) -> String {
    here(at).strftime("%H:%M").to_string()
}

/// "Today", "Yesterday", "Monday" within a week, "23 Nov" within the year, else "23 Nov 2025": a
/// day as people say it, in the workshop's time zone.
pub fn day(at: OffsetDateTime) -> String {
    day_seen_from(here(at).date(), here(crate::screen::now()).date())
}

/// A day after "since" or "on": "today", "Monday", "23 Nov".
pub fn since(at: OffsetDateTime) -> String {
    let day = day(at);
    match day.as_str() {
        "Today" | "Yesterday" => day.to_lowercase(),
        _ => day,
    }
}

fn day_seen_from(day: jiff::civil::Date, today: jiff::civil::Date) -> String {
    let ago = (today - day).get_days();
    match ago {
        0 => "Today".into(),
        1 => "Yesterday".into(),
        2..=6 => day.strftime("%A").to_string(),
        _ if day.year() == today.year() => day.strftime("%-d %b").to_string(),
        _ => day.strftime("%-d %b %Y").to_string(),
    }
}

/// "23 Nov 2026", in the workshop's time zone.
pub fn date(at: OffsetDateTime) -> String {
    here(at).strftime("%-d %b %Y").to_string()
}

/// "23 Nov 2026, 14:05", in the workshop's time zone.
pub fn moment(at: OffsetDateTime) -> String {
    here(at).strftime("%-d %b %Y, %H:%M").to_string()
}

/// The same with the zone's name, for papers that leave the workshop.
pub fn moment_in_zone(at: OffsetDateTime) -> String {
    here(at).strftime("%-d %b %Y, %H:%M %Z").to_string()
}

/// RFC 3339, for `<time datetime>`.
pub fn stamp(at: OffsetDateTime) -> String {
    at.format(&time::format_description::well_known::Rfc3339)
        .unwrap_or_default()
}

/// First letter large, full stop at the end; nothing of nothing.
pub fn sentence(text: &str) -> String {
    let mut out = capital(text);
    if !out.is_empty() && !out.ends_with(['.', '!', '?']) {
        out.push('.');
    }
    out
}

/// First letter large.
pub fn capital(text: &str) -> String {
    let mut chars = text.chars();
    match chars.next() {
        Some(first) => first.to_uppercase().chain(chars).collect(),
        None => String::new(),
    }
}

/// First letter small, for a name inside a sentence. A word of capitals ("PLA") or a single letter
/// ("Z drive") stays.
pub fn lower_first(text: &str) -> String {
    let mut chars = text.chars();
    match (chars.next(), chars.clone().next()) {
        (Some(first), Some(second)) if second.is_lowercase() => {
            first.to_lowercase().chain(chars).collect()
        }
        _ => text.to_string(),
    }
}

/// The label of a spool: "S-12".
pub fn spool_label(number: i64) -> String {
    format!("S-{number}")
}

/// The label of a case: "C-031".
pub fn case_label(number: i64) -> String {
    format!("C-{number:03}")
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn days_are_told_as_people_say_them() {
        let today = jiff::civil::date(2026, 11, 27);
        let told = |d: jiff::civil::Date| day_seen_from(d, today);
        assert_eq!(told(today), "Today");
        assert_eq!(told(jiff::civil::date(2026, 11, 26)), "Yesterday");
        assert_eq!(told(jiff::civil::date(2026, 11, 23)), "Monday");
        assert_eq!(told(jiff::civil::date(2026, 11, 20)), "20 Nov");
        assert_eq!(told(jiff::civil::date(2025, 12, 31)), "31 Dec 2025");
        // A clock that ran ahead is told by its date.
        assert_eq!(told(jiff::civil::date(2026, 11, 28)), "28 Nov");
    }

    #[test]
    fn small_shares_are_not_shown_as_nothing() {
        assert_eq!(percent(0.004), "under 1\u{a0}%");
        assert_eq!(percent(0.995), "over 99\u{a0}%");
        assert_eq!(percent(0.46), "46\u{a0}%");
        assert_eq!(decibans(-1.24), "−1.2");
        assert_eq!(decibans(-0.04), "0.0");
        assert_eq!(minutes(140.0), "2\u{a0}h 20\u{a0}min");
        assert_eq!(number(0.2), "0.2");
        assert_eq!(lower_first("Print 10 °C hotter"), "print 10 °C hotter");
        assert_eq!(lower_first("Z drive"), "Z drive");
        assert_eq!(
            keep_units("at 90 °C for 5 min"),
            "at 90\u{a0}°C for 5\u{a0}min"
        );
    }
}
