//! Pictograms of the parts, each on a field of 24 by 24, drawn with one stroke width.

/// The strokes of a pictogram by name; an unknown name gives the plain figure.
pub fn strokes(name: &str) -> &'static str {
    match name {
        "spool" | "path" => {
            r#"<circle cx="12" cy="12" r="9"/><circle cx="12" cy="12" r="3"/><path d="M12 3a9 6 0 0
                1 0 12M20.5 15l2 5"/>"#
        }
        "tube" => {
            r#"<path d="M3 5h6c3 0 3 5 6 7s3 7 6 7M3 9h5c3 0 3 5 5.500 7"/><path d="M10 14l4-4"/>"#
        }
        "gear" | "feeder" => {
            r#"<circle cx="12" cy="12" r="5.500"/><circle cx="12" cy="12" r="1.800"/><path d="M12
                3v3.500M12 17.500V21M3 12h3.500M17.500 12H21M5.600 5.600l2.500 2.500M15.900
                15.900l2.500 2.500M5.600 18.400l2.500-2.500M15.900 8.100l2.500-2.500"/>"#
        }
        "arm" => r#"<path d="M4 20V9l9-5 7 3-5 4 1 9"/><path d="M10 8l2 3-2 2 2 3"/>"#,
        "idler" => {
            r#"<circle cx="7" cy="12" r="4.500"/><circle cx="17" cy="12" r="4.500"/><path d="M12
                2v20"/>"#
        }
        "motor" => {
            r#"<rect x="4" y="6" width="12" height="12" rx="1.500"/><path d="M16 12h5M8 18v3M12
                18v3M7 10h6M7 14h6"/>"#
        }
        "nozzle" | "hotend" => r#"<path d="M6 3h12v8l-4.500 6h-3L6 11z"/><path d="M12 19.500v2"/>"#,
        "liner" => {
            r#"<path d="M8 2v9M16 2v9M10.500 2v9M13.500 2v9"/><path d="M6 15h12l-4 6h-4z"/>"#
        }
        "flame" | "heat" => {
            r#"<path d="M12 2c1 4 6 6 6 12a6 6 0 0 1-12 0c0-3 2-4 2.500-7 1.500 1 2.500 2.500 2.500
                4 1-2 1.500-5 1-9z"/>"#
        }
        "fan" => {
            r#"<circle cx="12" cy="12" r="2"/><path d="M12 10c-1-4 1-7 4-6.500s2 5-2 7M14 12c4-1 7
                1 6.500 4s-5 2-7-2M12 14c1 4-1 7-4 6.500s-2-5 2-7M10 12c-4 1-7-1-6.500-4s5-2 7
                2"/>"#
        }
        "thermometer" => {
            r#"<path d="M10 14V4.500a2 2 0 0 1 4 0V14a4 4 0 1 1-4 0zM12 9v8M17 5h3M17 9h3"/>"#
        }
        "box" => r#"<path d="M4 8l8-5 8 5v9l-8 5-8-5zM4 8l8 5 8-5M12 13v9"/>"#,
        "drop" | "material" => {
            r#"<path d="M12 2.500c4 5.500 6 8.500 6 12a6 6 0 0 1-12 0c0-3.500 2-6.500 6-12z"/><path
                d="M9 15a3 3 0 0 0 3 3"/>"#
        }
        "bars" => r#"<path d="M3 21h18M5 21v-7h4v7M10 21V8h4v13M15 21V3h4v18"/>"#,
        "calipers" => r#"<path d="M3 4h18v4H3zM6 8v9l3-4V8M15 8v9l-3-4V8M16 4v2M19 4v2"/>"#,
        "clock" => r#"<circle cx="12" cy="12" r="9"/><path d="M12 6.500V12l4 2.500"/>"#,
        "ruler" => r#"<path d="M3 8h18v8H3zM7 8v3M11 8v5M15 8v3M19 8v5"/>"#,
        "slider" | "flow" => {
            r#"<path d="M3 7h18M3 12h18M3 17h18"/><circle cx="8" cy="7" r="2" class="fill"/><circle
                cx="16" cy="12" r="2" class="fill"/><circle cx="10" cy="17" r="2" class="fill"/>"#
        }
        "gauge" | "motion-set" => {
            r#"<path d="M3 17a9 9 0 1 1 18 0"/><path d="M12 17l5-6M5.500 11l1.500 1M12 8v2"/>"#
        }
        "layers" => {
            r#"<path d="M3 7h18M3 11h18M3 15h18M3 19h18"/><path d="M8 7v4M16 11v4M10 15v4"/>"#
        }
        "plate" | "bed" => r#"<path d="M3 15l5-7h13l-5 7zM3 15v3h13v-3M16 18l5-7V8"/>"#,
        "plate-gap" => {
            r#"<path d="M8 3h8v4l-3 4h-2L8 7zM3 20h18"/><path d="M12 13v4M10 15.500l2 2 2-2"/>"#
        }
        "tilt" => {
            r#"<path d="M3 19h18M3 16L21 9"/><path d="M18 13v4M16.500 15.500l1.500 1.800
                1.500-1.800"/>"#
        }
        "bowed" => r#"<path d="M3 19h18M3 11c6 6 12 6 18 0"/>"#,
        "mesh" => {
            r#"<path d="M3 8c6 3 12-3 18 0M3 13c6 3 12-3 18 0M3 18c6 3 12-3 18 0M6 6v13M12 6v13M18
                6v13"/>"#
        }
        "spring" => r#"<path d="M6 3h12M6 21h12M8 3c10 2-2 3 8 5s-10 2 0 4-10 3 0 5-6 3-8 4"/>"#,
        "wind" => r#"<path d="M3 9h11a3 3 0 1 0-3-3M3 13h15a3 3 0 1 1-3 3M3 17h7"/>"#,
        "foot" => r#"<path d="M9 3h6l-2 13h-2zM8 20h8M3 20h18"/><path d="M11 16v4M13 16v4"/>"#,
        "probe" => r#"<path d="M9 3h6v9H9zM12 12v6M12 18l-1.500-2M12 18l1.500-2M4 21h16"/>"#,
        "belt" => {
            r#"<circle cx="6" cy="12" r="4"/><circle cx="18" cy="12" r="4"/><path d="M6 8h12M6 16c4
                2 8 2 12 0"/>"#
        }
        "pulley" => {
            r#"<circle cx="12" cy="12" r="8.500"/><circle cx="12" cy="12" r="3"/><path d="M12
                9v-5.500M10.500 12h3"/>"#
        }
        "wheel" => {
            r#"<circle cx="12" cy="9" r="6"/><circle cx="12" cy="9" r="1.500"/><path d="M3 17h18M3
                20h18"/>"#
        }
        "rail" => {
            r#"<path d="M2 17h20M2 20h20"/><rect x="7" y="8" width="10" height="9" rx="1"/><path
                d="M10 8V5M14 8V5"/>"#
        }
        "cable" => r#"<path d="M3 6c6 0 2 8 8 8s3-6 7-6 4 5 0 7-9 1-11 4"/><path d="M3 3v6"/>"#,
        "screw" | "mechanics" => {
            r#"<path d="M9 3h6v3H9zM12 6v16M9 9l6 2M9 12l6 2M9 15l6 2M9 18l6 2"/>"#
        }
        "plug" | "electric" => r#"<path d="M8 3v5M16 3v5M5 8h14v4a7 7 0 0 1-14 0zM12 19v3"/>"#,
        "switch" => r#"<path d="M3 20h18v-6H3zM6 14l12-8"/><circle cx="19" cy="6" r="1.800"/>"#,
        "chip" => {
            r#"<rect x="6" y="6" width="12" height="12" rx="1"/><path d="M9 3v3M15 3v3M9 18v3M15
                18v3M3 9h3M3 15h3M18 9h3M18 15h3"/>"#
        }
        "bolt" => r#"<path d="M13 2L5 14h6l-1 8 8-12h-6z"/>"#,
        "wave" => r#"<path d="M2 12c2-8 4-8 6 0s4 8 6 0 4-8 8 0"/>"#,
        "arch" | "model" => {
            r#"<path d="M3 21V9a9 6 0 0 1 18 0v12h-4v-9a5 4 0 0 0-10 0v9zM12 13v8M9.500 17v4M14.500
                17v4"/>"#
        }
        "pin" => {
            r#"<rect x="4" y="4" width="16" height="16" rx="2"/><circle cx="12" cy="12" r="5"/>
                <circle cx="12" cy="12" r="2.500"/>"#
        }
        "book" => {
            r#"<path d="M12 6c-3-2-6-2-9-1v14c3-1 6-1 9 1 3-2 6-2 9-1V5c-3-1-6-1-9 1zM12 6v14M6 9l3
                .5M6 13l3 .5M18 9l-3 .5M18 13l-3 .5"/>"#
        }
        "frame" => r#"<path d="M4 21L6 3h14l-2 18zM8 17h9M8.500 8h9"/>"#,
        "warning" => r#"<path d="M12 3l10 18H2zM12 10v5M12 17.500v.8"/>"#,
        "fine" | "normal" => r#"<circle cx="12" cy="12" r="9"/><path d="M7.500 12.500l3 3 6-7"/>"#,
        "someone" => {
            r#"<path d="M8.500 9a3.500 3.500 0 1 1 5 3.200c-1 .5-1.500 1.300-1.500 2.800M12
                18.500v.8"/>"#
        }
        _ => r#"<circle cx="12" cy="8" r="4"/><path d="M5 21a7 7 0 0 1 14 0"/>"#,
    }
}

/// A pictogram as a drawing of its own, hidden from screen readers: a word always stands beside it.
pub fn svg(name: &str) -> String {
    format!(
        r#"<svg class="pictogram" viewBox="0 0 24 24" width="24" height="24"
            aria-hidden="true">{}</svg>"#,
        strokes(name)
    )
}
