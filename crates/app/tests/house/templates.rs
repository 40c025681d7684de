//! How templates are laid out, and what none of them holds.

use super::source::files;

/// A template with what is filled in blotted out, so that quotes and angle brackets are its own.
fn blotted(text: &str) -> String {
    let mut out = String::new();
    let mut rest = text;
    while let Some(at) = rest.find(['{']) {
        let end = match rest.as_bytes().get(at + 1) {
            Some(b'{') => "}}",
            Some(b'%') => "%}",
            Some(b'#') => "#}",
            _ => "{",
        };
        let length = rest[at..].find(end).expect("an end") + end.len();
        out.push_str(&rest[..at]);
        let blot = |c: char| if c == '\n' { '\n' } else { '·' };
        out.extend(rest[at..at + length].chars().map(blot));
        rest = &rest[at + length..];
    }
    out + rest
}

/// Tags of a template with the line each begins on.
fn tags(text: &str) -> Vec<(usize, &str)> {
    let mut found = Vec::new();
    let mut from = 0;
    while let Some(at) = text[from..].find('<').map(|n| n + from) {
        let mut quoted = false;
        let end = text[at..]
            .find(|c| {
                quoted ^= c == '"';
                c == '>' && !quoted
            })
            .map_or(text.len(), |n| n + at);
        found.push((text[..at].lines().count().max(1), &text[at..end]));
        from = end;
    }
    found
}

#[test]
fn templates_are_laid_out_alike() {
    for (path, text) in files("crates/web/src/pages", &["html"]) {
        for (n, line) in text.lines().enumerate() {
            let indent = line.len() - line.trim_start().len();
            assert!(indent % 2 == 0, "{path}:{} is indented by {indent}", n + 1);
            assert!(!line.contains('\t'), "{path}:{} has a tab", n + 1);
            assert_eq!(line, line.trim_end(), "{path}:{} ends in a space", n + 1);
        }
        for (n, tag) in tags(&blotted(&text)) {
            for (at, value) in tag.split('"').enumerate() {
                let within = at % 2 == 1;
                assert!(
                    !(within && value.contains('\n')),
                    "{path}:{n} breaks a value: {value}"
                );
            }
        }
    }
}

#[test]
fn styles_and_scripts_stand_in_their_own_files() {
    for (path, text) in files("crates/web/src/pages", &["html"]) {
        for (n, tag) in tags(&blotted(&text)) {
            let inline = ["style=", "onclick=", "onsubmit=", "onchange=", "<style"];
            for word in inline {
                assert!(!tag.contains(word), "{path}:{n} has {word}");
            }
            let script = tag.starts_with("<script") && !tag.contains("src=");
            assert!(!script, "{path}:{n} has a script of its own");
            let picture = tag.starts_with("<img") && !tag.contains("alt=");
            assert!(!picture, "{path}:{n} has a picture without words");
        }
    }
    for (path, text) in files("assets/styles", &["css"]) {
        assert!(!text.contains("!important"), "{path} insists");
        assert!(text.contains("@layer"), "{path} is in no layer");
    }
}
