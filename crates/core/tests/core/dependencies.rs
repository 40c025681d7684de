//! The core stays free of web, database and async crates: it takes data and returns data.

use std::process::Command;

#[test]
fn the_core_depends_on_no_web_database_or_async_crate() {
    let out = Command::new(env!("CARGO"))
        .args([
            "tree",
            "--offline",
            "--locked",
            "-p",
            "suspect-core",
            "-e",
            "normal",
            "--prefix",
            "none",
            "--format",
            "{p}",
        ])
        .current_dir(env!("CARGO_MANIFEST_DIR"))
        .output()
        .expect("cargo runs");
    assert!(
        out.status.success(),
        "{}",
        String::from_utf8_lossy(&out.stderr)
    );
    let tree = String::from_utf8_lossy(&out.stdout).into_owned();
    let names: Vec<&str> = tree
        .lines()
        .filter_map(|l| l.split_whitespace().next())
        .collect();
    assert!(
        names.contains(&"suspect-core") && names.contains(&"serde"),
        "the tree was read"
    );
    for banned in [
        "tokio",
        "axum",
        "sea-orm",
        "sqlx",
        "hyper",
        "futures",
        "async-std",
        "askama",
        "tower",
        "reqwest",
        "rand",
    ] {
        let found = names
            .iter()
            .find(|n| **n == banned || n.starts_with(&format!("{banned}-")));
        assert_eq!(found, None, "{banned} has no place in the core");
    }
}
