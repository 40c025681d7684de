//! The brief as Markdown.

use crate::page_error::PageError;
use crate::pages::help::brief::Brief;
use askama::Template;

#[derive(Template)]
#[template(path = "help/brief.md", escape = "none")]
struct BriefText<'a> {
    brief: &'a Brief,
}

/// Markdown that shows a text as it is: every mark with a meaning of its own is escaped, line ends
/// become blanks.
pub fn md(text: &str) -> String {
    let mut out = String::with_capacity(text.len());
    for c in text.chars() {
        match c {
            '\n' | '\r' => out.push(' '),
            '<' => out.push_str("&lt;"),
            '>' => out.push_str("&gt;"),
            '&' => out.push_str("&amp;"),
            '\\' | '`' | '*' | '_' | '[' | ']' | '#' | '|' | '!' | '~' => {
                out.push('\\');
                out.push(c);
            }
            c => out.push(c),
        }
    }
    out
}

/// The text of a brief.
///
/// # Errors
/// When the template fails.
pub fn markdown(brief: &Brief) -> Result<String, PageError> {
    Ok(tidy(&BriefText { brief }.render()?))
}

/// A text without the blank lines that parts without content leave behind.
pub fn tidy(text: &str) -> String {
    let mut out = String::new();
    for line in text.lines() {
        if !(line.is_empty() && (out.is_empty() || out.ends_with("\n\n"))) {
            out.push_str(line);
            out.push('\n');
        }
    }
    out
}

/// A name in bold with its lines below it; nothing where there are none.
pub fn md_lines(name: &str, lines: &[String]) -> String {
    let lines = lines.iter().map(|line| format!("- {}\n", md(line)));
    match lines.collect::<String>() {
        none if none.is_empty() => none,
        some => format!("**{name}**\n{some}"),
    }
}

#[cfg(test)]
mod tests {
    use super::md;

    #[test]
    fn markup_in_a_text_stays_a_text() {
        assert_eq!(
            md("<script>alert(1)</script>"),
            "&lt;script&gt;alert(1)&lt;/script&gt;"
        );
        assert_eq!(md("[x](http://e)\n# *b*"), "\\[x\\](http://e) \\# \\*b\\*");
    }
}
