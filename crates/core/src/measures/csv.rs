//! A table of times and values as devices and spreadsheets write it.

use super::refused::{Refused, refuse};

/// A trace.
#[derive(Debug, Clone, PartialEq)]
pub struct Trace {
    /// Seconds from the first sample on.
    pub times: Vec<f64>,
    /// The values at these times.
    pub values: Vec<f64>,
    /// What parts its columns; a blank where nothing else does.
    pub separator: char,
    /// What stands over the value, where the table has a head.
    pub head: Option<String>,
}

/// Signs that part columns, the most telling first: a comma may be a decimal comma.
const SEPARATORS: [char; 4] = ['\t', ';', '|', ','];

/// Reads a table of two columns or more: the first is the time in seconds, the second the value. A
/// line of words at its head is taken as such; the separator is guessed from the first line of
/// numbers; lines without anything are passed over.
///
/// # Errors
/// Names the line, what stands there, and what would do.
pub fn read_trace(text: &str) -> Result<Trace, Refused> {
    let lines = text.trim_start_matches('\u{feff}').lines().enumerate();
    let mut lines = lines.filter(|(_, l)| !l.trim().is_empty()).peekable();
    let mut head = None;
    if let Some((_, first)) = lines.peek().copied() {
        let separator = separator(first);
        let mut cells = cells(first, separator);
        if !cells.iter().take(2).all(|c| number(c, separator).is_some()) {
            head = (cells.len() > 1).then(|| cells.swap_remove(1).to_string());
            lines.next();
        }
    }
    let Some(separator) = lines.peek().map(|(_, l)| separator(l)) else {
        return refuse("the table holds no line of numbers");
    };
    let (mut times, mut values) = (Vec::new(), Vec::new());
    for (n, line) in lines {
        let cells = cells(line, separator);
        let read = |at: usize| cells.get(at).and_then(|c| number(c, separator));
        let (Some(time), Some(value)) = (read(0), read(1)) else {
            let shown = crate::nearest::short(line);
            return refuse(format!(
                "line {}: \"{shown}\" is not a time in seconds and a value",
                n + 1
            ));
        };
        times.push(time);
        values.push(value);
    }
    let start = times[0];
    for time in &mut times {
        *time -= start;
    }
    Ok(Trace {
        separator,
        times,
        values,
        head,
    })
}

/// What parts the cells of a line; blanks where nothing else does.
fn separator(line: &str) -> char {
    let plain = SEPARATORS.into_iter().find(|s| line.contains(*s));
    plain.unwrap_or(' ')
}

fn cells(line: &str, separator: char) -> Vec<&str> {
    let part = |c: &str| -> bool { separator != ' ' || !c.is_empty() };
    let trimmed = line
        .trim()
        .split(separator)
        .map(|c| c.trim().trim_matches('"'));
    trimmed.filter(|c| part(c)).collect()
}

/// A number with a point, or with a comma where commas part nothing.
fn number(cell: &str, separator: char) -> Option<f64> {
    let value: f64 = match separator {
        ',' => cell.parse().ok()?,
        _ => cell.replace(',', ".").parse().ok()?,
    };
    value.is_finite().then_some(value)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn separators_heads_and_decimal_commas_are_guessed() {
        for text in [
            "0,200.5\n1,201\n",
            "time,temp\n0,200.5\n1,201\n",
            "Zeit;Temperatur\r\n10;200,5\r\n\r\n11;201\r\n",
            "\u{feff}s\t°C\n0\t200.5\t99\n1\t201\t99\n",
            "0 200.5\n1   201\n",
            "\"t\",\"T\"\n\"5\",\"200.5\"\n\"6\",\"201\"",
        ] {
            let trace = read_trace(text).unwrap_or_else(|e| panic!("{text}: {e}"));
            assert_eq!(
                (trace.times, trace.values),
                (vec![0.0, 1.0], vec![200.5, 201.0]),
                "{text}"
            );
        }
        assert_eq!(read_trace("t;T\n0;1\n").unwrap().head.as_deref(), Some("T"));
    }

    #[test]
    fn what_is_no_table_is_refused_by_line() {
        for (text, told) in [
            ("", "no line"),
            ("time,temp\n", "no line"),
            ("0,200\n1,\n2,201", "line 2"),
            ("0,200\n1,NaN", "line 2"),
            ("time,temp\n2026-11-27 10:00,200", "line 2"),
            ("0,200\n1,1e400", "line 2"),
            ("hello\nworld", "line 2"),
        ] {
            let why = read_trace(text).unwrap_err().to_string();
            assert!(why.contains(told), "{text}: {why}");
        }
    }
}
