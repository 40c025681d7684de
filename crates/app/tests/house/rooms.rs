//! Which file may use which: our own reading of paths that begin with `crate` or `super`.

use super::source::{code, files, spelt_out};
use std::collections::{BTreeMap, BTreeSet};

type Uses = BTreeMap<String, BTreeSet<String>>;

/// The module a file of a crate holds: `pages::case::show`, empty for the crate itself.
fn module(path: &str) -> String {
    let path = path.trim_end_matches(".rs").trim_end_matches("/mod");
    let parts: Vec<&str> = path.split('/').skip(3).filter(|p| *p != "lib").collect();
    parts.join("::")
}

/// Paths a module names, made absolute.
fn named(module: &str, text: &str) -> Vec<String> {
    let mut named = Vec::new();
    let code = code(text);
    let declarations = code.split(';').filter_map(|d| {
        let at = d.rfind("use ")?;
        let alone = at == 0 || d[..at].ends_with(['\n', ' ']);
        alone.then(|| d[at + 4..].to_string())
    });
    for tree in declarations.filter(|d| d.starts_with("crate::") || d.starts_with("super::")) {
        named.extend(spelt_out(&tree));
    }
    for start in ["crate::", "super::"] {
        for (at, _) in code.match_indices(start) {
            let path = code[at..].split(|c: char| !(c.is_alphanumeric() || "_:".contains(c)));
            named.push(
                path.into_iter()
                    .next()
                    .unwrap()
                    .trim_end_matches(':')
                    .to_string(),
            );
        }
    }
    let absolute = |path: String| {
        let mut here: Vec<&str> = module.split("::").collect();
        let mut rest = path.as_str();
        while let Some(above) = rest.strip_prefix("super::") {
            here.pop();
            rest = above;
        }
        match rest.strip_prefix("crate::") {
            Some(path) => path.to_string(),
            None => [here.join("::"), rest.to_string()].join("::"),
        }
    };
    named.into_iter().map(absolute).collect()
}

/// Which module of a crate uses which, `level` names deep; 0 for files as they are.
fn uses(krate: &str, level: usize) -> Uses {
    let sources = files(&format!("crates/{krate}/src"), &["rs"]);
    let modules: BTreeSet<String> = sources.keys().map(|path| module(path)).collect();
    let short = |module: &str| match level {
        0 => module.to_string(),
        level => module
            .split("::")
            .take(level)
            .collect::<Vec<_>>()
            .join("::"),
    };
    let mut uses = Uses::new();
    for (path, text) in &sources {
        let own = module(path);
        let to = uses.entry(short(&own)).or_default();
        for path in named(&own, text) {
            // The longest beginning of the path that is a module.
            let parts: Vec<&str> = path.split("::").filter(|p| !p.is_empty()).collect();
            let known = (1..=parts.len()).rev().map(|n| parts[..n].join("::"));
            let known = known.into_iter().find(|m| modules.contains(m));
            to.extend(known.map(|m| short(&m)).filter(|m| *m != short(&own)));
        }
    }
    uses
}

/// A circle among modules, if there is one.
fn circle(uses: &Uses) -> Option<Vec<String>> {
    fn walk<'a>(
        uses: &'a Uses,
        at: &'a str,
        way: &mut Vec<&'a str>,
        done: &mut Vec<&'a str>,
    ) -> bool {
        if way.contains(&at) {
            way.push(at);
            return true;
        }
        if done.contains(&at) {
            return false;
        }
        way.push(at);
        for next in uses.get(at).into_iter().flatten() {
            if walk(uses, next, way, done) {
                return true;
            }
        }
        way.pop();
        done.push(at);
        false
    }
    let mut done = Vec::new();
    for start in uses.keys() {
        let mut way = Vec::new();
        if walk(uses, start, &mut way, &mut done) {
            return Some(way.into_iter().map(str::to_string).collect());
        }
    }
    None
}

#[test]
fn no_file_of_the_web_uses_one_that_uses_it() {
    assert_eq!(circle(&uses("web", 0)), None);
}

#[test]
fn no_room_of_core_or_store_uses_one_that_uses_it() {
    for krate in ["core", "store", "rehearsal", "pictures", "app"] {
        assert_eq!(circle(&uses(krate, 1)), None, "{krate}");
    }
}

/// What folders of pages share, and the one folder where everything meets.
const SHARED: [&str; 5] = ["open_case", "record", "parts", "live", ""];
const CASE_MAY_SHOW: [&str; 2] = ["doing", "help"];

#[test]
fn folders_of_pages_use_what_they_share_and_not_each_other() {
    let folder = |module: &str| match module.strip_prefix("pages") {
        Some(rest) => rest
            .trim_start_matches("::")
            .split("::")
            .next()
            .map(str::to_string),
        None => None,
    };
    for (from, to) in uses("web", 0) {
        let Some(from_folder) = folder(&from) else {
            // What lies below pages does not know them; routes and the crate itself name all.
            let below = !from.is_empty() && from != "routes" && !from.starts_with("routes::");
            let pages: Vec<_> = to.iter().filter(|m| m.starts_with("pages")).collect();
            assert!(!below || pages.is_empty(), "{from} uses {pages:?}");
            continue;
        };
        for other in to.iter().filter_map(|m| folder(m).map(|f| (m, f))) {
            let may = other.1 == from_folder
                || SHARED.contains(&other.1.as_str())
                || (from_folder == "case" && CASE_MAY_SHOW.contains(&other.1.as_str()));
            assert!(may, "{from} uses {}", other.0);
        }
    }
}
