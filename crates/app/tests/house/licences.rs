//! Every package the program is built from may be used so, and comes from the registry.

use super::source::root;
use serde_json::Value;
use std::process::Command;

/// Licences under which a package may be in the program: they ask for their text to be kept, not
/// more.
const FINE: [&str; 14] = [
    "0BSD",
    "Apache-2.0",
    "Apache-2.0 WITH LLVM-exception",
    "BSD-2-Clause",
    "BSD-3-Clause",
    "BSL-1.0",
    "CC0-1.0",
    "CDLA-Permissive-2.0",
    "ISC",
    "MIT",
    "MIT-0",
    "Unicode-3.0",
    "Unlicense",
    "Zlib",
];
/// Of a package that only tests need, its source must be kept open as well; nothing of it is
/// shipped.
const FINE_IN_TESTS: [&str; 1] = ["MPL-2.0"];

/// Packages that name no licence but bring its text, which somebody read.
const READ: [(&str, &str); 1] = [("rs-fsrs", "MIT License\n\nCopyright")];

/// The licence of a package that brings only its text: the text must begin as it was read.
fn read(package: &Value) -> Option<&'static str> {
    let (_, begins) = READ.iter().find(|(name, _)| package["name"] == *name)?;
    let folder = std::path::Path::new(package["manifest_path"].as_str()?).parent()?;
    let text = std::fs::read_to_string(folder.join(package["license_file"].as_str()?)).ok()?;
    text.starts_with(begins).then_some("MIT")
}

/// Whether one of the alternatives of an expression is fine in all its parts.
fn fine(expression: &str, also: &[&str]) -> bool {
    let part = |part: &str| {
        let part = part.trim().trim_matches(['(', ')']);
        FINE.contains(&part) || also.contains(&part)
    };
    let flat = expression.replace('/', " OR ");
    // `A AND (B OR C)`: each part of the whole has a fine alternative.
    let all = |text: &str| text.split(" AND ").all(part);
    flat.split(" OR ").any(all) || flat.split(" AND ").all(|p| p.split(" OR ").any(part))
}

/// What the program is built from on this platform: other platforms' packages are not here.
fn metadata() -> Value {
    let version = Command::new("rustc").arg("-vV").output().unwrap();
    let version = String::from_utf8(version.stdout).unwrap();
    let host = version.lines().find_map(|l| l.strip_prefix("host: "));
    let output = Command::new(env!("CARGO"))
        .args(["metadata", "--locked", "--offline", "--format-version", "1"])
        .args(["--filter-platform", host.unwrap()])
        .current_dir(root())
        .output()
        .unwrap();
    serde_json::from_slice(&output.stdout).unwrap()
}

#[test]
fn every_package_is_free_to_use_and_from_the_registry() {
    let metadata = metadata();
    let packages = metadata["packages"].as_array().unwrap();
    assert!(packages.len() > 100);
    for package in packages {
        let name = package["name"].as_str().unwrap();
        let licence = package["license"].as_str().or_else(|| read(package));
        let licence = licence.unwrap_or("none");
        assert!(fine(licence, &FINE_IN_TESTS), "{name} is under {licence}");
        let own = name.starts_with("suspect-") || name == "usual-suspect";
        let registry = "registry+https://github.com/rust-lang/crates.io-index";
        let source = package["source"].as_str().unwrap_or("here");
        assert!(own || source == registry, "{name} comes from {source}");
    }
}

#[test]
fn expressions_are_read() {
    assert!(fine("MIT OR GPL-3.0", &[]));
    assert!(fine("Apache-2.0/MIT", &[]));
    assert!(fine("(MIT OR GPL-3.0) AND Unicode-3.0", &[]));
    assert!(!fine("MIT AND GPL-3.0", &[]));
    assert!(!fine("none", &[]));
}
