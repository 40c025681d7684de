//! The sources of this project, read as text.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

/// The project's folder.
pub fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

/// Files below a folder of the project with one of some endings, by path from the project's folder.
pub fn files(folder: &str, endings: &[&str]) -> BTreeMap<String, String> {
    let mut found = BTreeMap::new();
    let mut folders = vec![root().join(folder)];
    while let Some(folder) = folders.pop() {
        for entry in fs::read_dir(&folder).unwrap() {
            let path = entry.unwrap().path();
            let ending = path.extension().and_then(|e| e.to_str()).unwrap_or("");
            if path.is_dir() {
                folders.push(path);
            } else if endings.contains(&ending) {
                let name = path.strip_prefix(root()).unwrap().to_str().unwrap();
                found.insert(name.to_string(), fs::read_to_string(&path).unwrap());
            }
        }
    }
    found
}

/// A source without its comments and its inner tests.
pub fn code(text: &str) -> String {
    let own = text.split("#[cfg(test)]\nmod tests {").next().unwrap();
    let line = |line: &str| match line.trim_start().starts_with("//") {
        true => String::new(),
        false => line.to_string(),
    };
    own.lines().map(line).collect::<Vec<_>>().join("\n")
}

/// Every path of a `use` declaration, its groups spelt out: `a::{b, c::d}` is `a::b` and `a::c::d`.
pub fn spelt_out(tree: &str) -> Vec<String> {
    let tree = tree.trim();
    let Some((prefix, rest)) = tree.split_once('{') else {
        let path = tree.split(" as ").next().unwrap().trim();
        return vec![path.trim_end_matches("::self").to_string()];
    };
    let inner = rest.strip_suffix('}').unwrap_or(rest);
    let (mut depth, mut start, mut parts) = (0, 0, Vec::new());
    for (at, c) in inner.char_indices() {
        match c {
            '{' => depth += 1,
            '}' => depth -= 1,
            ',' if depth == 0 => {
                parts.push(&inner[start..at]);
                start = at + 1;
            }
            _ => {}
        }
    }
    parts.push(&inner[start..]);
    let parts = parts.into_iter().map(str::trim).filter(|p| !p.is_empty());
    parts
        .flat_map(|part| spelt_out(&format!("{}{part}", prefix.trim())))
        .collect()
}

#[test]
fn groups_are_spelt_out() {
    assert_eq!(
        spelt_out("crate::{a, b::{self, c as d}}"),
        ["crate::a", "crate::b", "crate::b::c"]
    );
    assert_eq!(spelt_out("super::x::Y"), ["super::x::Y"]);
}
