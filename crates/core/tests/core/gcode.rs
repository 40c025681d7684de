//! What the reader makes of small files whose truth is plain.

use suspect_core::gcode::{Figure, Reading, read, report};

pub fn of(lines: &str) -> Reading {
    read(lines.as_bytes())
}

/// A start as files have it: millimetres, places, amounts.
pub const START: &str = "G21\nG90\nM83\nG28\nG1 Z0.2 F600\n";

fn filament(reading: &Reading) -> f64 {
    reading.sum(|l| l.filament)
}

pub fn close(a: f64, b: f64) {
    assert!((a - b).abs() < 1e-6 * b.abs().max(1.0), "{a} is not {b}");
}

/// A square loop of 20 mm at a height, as amounts of 1 mm a side.
pub fn square(z: f64) -> String {
    format!("G1 X0 Y0 Z{z} F6000\nG1 X20 Y0 E1 F1200\nG1 X20 Y20 E1\nG1 X0 Y20 E1\nG1 X0 Y0 E1\n")
}

#[test]
fn extrusion_is_read_as_places_as_amounts_and_changing_between_them() {
    let absolute = of("M82\nG92 E0\nG1 Z.2\nG1 X10 E1 F600\nG1 X20 E2\nG92 E0\nG1 X30 E1\n");
    close(filament(&absolute), 3.0);
    assert!(absolute.absolute && !absolute.relative);
    let mixed = of("M82\nG1 Z.2\nG1 X10 E1 F600\nM83\nG1 X20 E1\nM82\nG1 X30 E3\n");
    close(filament(&mixed), 3.0);
    assert!(mixed.absolute && mixed.relative);
    // `M83` holds beyond a `G90`; `G91` means amounts, and `G90` goes back to what was said.
    let said = of("M83\nG91\nG90\nG1 Z.2\nG1 X10 E1 F600\nG1 X20 E1\n");
    close(filament(&said), 2.0);
    let end = of("M82\nG1 Z.2\nG1 X10 E5 F600\nG91\nG1 E-1 F300\nG90\nG1 X20 E6 F600\n");
    close(filament(&end), 5.0 - 1.0 + 2.0);
    let never = of("G91\nG1 Z.2\nG1 X10 E1 F600\nG1 X10 E1\n");
    close(filament(&never), 2.0);
}

#[test]
fn inches_become_millimetres_and_cubic_millimetres_become_length() {
    let inch = of("G20\nM83\nG1 Z.008 F24\nG1 X1 E.1 F60\n");
    close(filament(&inch), 2.54);
    close(inch.layers[0].laid, 25.4);
    close(inch.layers[0].speed(), 25.4);
    assert!(inch.inch);
    let volume = of("M83\nM200 D1.75\nG1 Z.2\nG1 X100 E9 F3000\n");
    close(filament(&volume), 9.0 / volume.area());
    close(volume.layers[0].width(volume.area()), 0.45);
}

#[test]
fn arcs_extrude_along_their_whole_length() {
    // Half a circle of radius 10 counter-clockwise, by its centre and by its radius, then back.
    let around = 10.0 * std::f64::consts::PI;
    for arc in [
        "G3 X-10 Y0 I-10 J0 E3 F600",
        "G3 X-10 Y0 R10 E3 F600",
        "G2 X-10 Y0 R10 E3 F600",
    ] {
        let reading = of(&format!("{START}G1 X10 Y0\n{arc}\n"));
        let layer = &reading.layers[0];
        // A chain of chords is a hair shorter than its arc.
        assert!(
            (layer.laid - around).abs() < 0.002 * around,
            "{arc}: {}",
            layer.laid
        );
        assert!(reading.arcs);
        close(filament(&reading), 3.0);
        assert!((layer.laid_time - around / 10.0).abs() < 0.01, "{arc}");
        assert!(
            (layer.extent.0[1] < -9.9) == arc.starts_with("G2"),
            "{arc}: {:?}",
            layer.extent
        );
    }
    let wrong = of(&format!("{START}G1 X10 Y0\nG2 X90 Y0 R3 E3 F600\n"));
    assert_eq!(wrong.problem_count, 1);
}

#[test]
fn words_that_look_alike_are_told_apart() {
    let reading = of(&format!(
        "{START}M201 X1000 Y1000 E9000\nM204 P800 T1500\nM203 E50\nM117 G1 X500 E99\n\
         G1 X10 E1 F600\n"
    ));
    close(filament(&reading), 1.0);
    assert!(reading.changes.iter().all(|c| c.what != "tool"));
    assert_eq!(reading.layers[0].acceleration.value, 800.0);
    let tools = of(&format!("{START}T1\nG1 X10 E1 F600\n"));
    assert_eq!(tools.changes.iter().filter(|c| c.what == "tool").count(), 1);
}

#[test]
fn temperatures_are_kept_with_line_layer_and_whether_they_are_waited_for() {
    let text = format!(
        "M104 S200\nM109 R215\nM190 S60\nM141 S40\nM191 R45\n{START}G1 X10 E1 F600\nM104 S210\n\
         G1 Z.4\nG1 X20 E1\nM104 S0\n"
    );
    let reading = of(&text);
    let heat: Vec<(u64, u32, &str, f64, bool)> = reading
        .changes
        .iter()
        .map(|c| (c.line, c.layer, c.what.as_str(), c.value, c.waits))
        .collect();
    assert_eq!(heat[0], (1, 0, "nozzle", 200.0, false));
    assert_eq!(heat[1], (2, 0, "nozzle", 215.0, true));
    assert_eq!(heat[2], (3, 0, "bed", 60.0, true));
    assert_eq!(heat[4], (5, 0, "chamber", 45.0, true));
    assert_eq!(heat[5], (12, 1, "nozzle", 210.0, false));
    assert_eq!(reading.layers[0].nozzle.value, 215.0);
    assert_eq!(reading.most_held(|l| l.nozzle.value), Some(210.0));
    assert_eq!(reading.chamber(), Some(45.0));
}

#[test]
fn fans_are_read_in_bytes_in_fractions_and_by_number() {
    let fan = |line: &str| {
        let reading = of(&format!("{START}{line}\nG1 X10 E1 F600\n"));
        Figure::Fan.of(&reading, &reading.layers[0]).unwrap()
    };
    assert_eq!(fan("M106 S255"), 100.0);
    assert_eq!(fan("M106 S127"), 49.8);
    assert_eq!(fan("M106 S0.4"), 40.0);
    assert_eq!(fan("M106"), 100.0);
    assert_eq!(fan("M106 S255\nM107"), 0.0);
    assert_eq!(fan("M106 S255\nM106 P2 S0"), 100.0);
    assert_eq!(fan("M106 P1 S102"), 40.0, "the only fan there is");
    assert_eq!(fan("SET_FAN_SPEED FAN=part SPEED=0.6"), 60.0);
}

#[test]
fn a_lonely_start_of_the_fan_belongs_to_the_layer_that_is_laid_with_it() {
    let reading = of(&format!(
        "{START}G1 X9 E1 F600\nG1 Z.4\nM106 S255\nG1 X0\nG1 X9 E1\n"
    ));
    let fans: Vec<f32> = reading.layers.iter().map(|l| l.fan_most).collect();
    assert_eq!(fans, [0.0, 1.0]);
}

#[test]
fn speed_and_flow_factors_count() {
    let reading = of(&format!("{START}M220 S50\nM221 S90\nG1 X100 E10 F6000\n"));
    close(reading.layers[0].speed(), 50.0);
    close(filament(&reading), 9.0);
    assert!((reading.layers[0].flow_factor.value - 0.9).abs() < 1e-6);
}

#[test]
fn a_wait_is_time_and_a_pause_is_a_place() {
    let plain = of(&format!("{START}{}", square(0.2)));
    let waits = of(&format!(
        "{START}G4 S3\nG4 P500\n{}M600\nM0\nM400 U1\n",
        square(0.2)
    ));
    let time = |r: &Reading| r.sum(|l| l.plain_time);
    close(time(&waits) - time(&plain), 3.5);
    let what: Vec<&str> = waits.pauses.iter().map(|p| p.what.as_str()).collect();
    assert_eq!(what, ["filament-change", "pause", "pause"]);
}

#[test]
fn the_mesh_is_told_by_commands_and_not_guessed_from_macros() {
    let mesh = |start: &str| of(&format!("{start}\n{START}{}", square(0.2))).mesh;
    for (start, word) in [
        ("", "homes-only"),
        ("G29", "measured"),
        ("M420 S1", "loaded"),
        ("G29 P1\nG29 A", "measured-and-loaded"),
        ("G29 L20 R200 F20 B200", "measured"),
        ("BED_MESH_PROFILE LOAD=\"cold\"", "loaded"),
        ("BED_MESH_CALIBRATE", "measured"),
        ("G80", "measured"),
        ("M375 P\"cold.csv\"", "loaded"),
        ("M420 S1\nM420 S0", "homes-only"),
    ] {
        assert_eq!(mesh(start).word(), Some(word), "{start}");
    }
    assert!(mesh("G29").homed_after, "it is homed again behind it");
    let only = of("START_PRINT BED=60 NOZZLE=215\nM83\nG1 Z.2\nG1 X10 E1 F600\n");
    assert_eq!(only.mesh.word(), None);
    assert!(only.macros);
    assert_eq!(only.layers[0].nozzle.value, 215.0);
}

#[test]
fn retractions_of_all_kinds_are_counted() {
    let pull = "G1 E-.8 F2100\nG1 X30 F6000\nG1 E.8 F2100\n";
    let reading = of(&format!(
        "{START}G1 X10 E1 F600\n{pull}G1 X40 E1 F600\n{pull}G1 X50 E1 F600\n"
    ));
    let found = &reading.retraction;
    assert_eq!(
        (found.count, found.length_mm, found.speed_mm_s),
        (2, 0.8, 35.0)
    );
    let firmware = of(&format!(
        "{START}M207 S1.5 F1800\nG1 X10 E1 F600\nG10\nG1 X30\nG11\nG1 X40 E1\n"
    ));
    let found = &firmware.retraction;
    assert_eq!(
        (found.count, found.length_mm, found.speed_mm_s),
        (1, 1.5, 30.0)
    );
    assert!(firmware.firmware_retraction);
    close(filament(&firmware), 2.0);
    // An offset of a tool is none.
    assert_eq!(
        of(&format!("{START}G10 P0 X2 Y1\n{}", square(0.2)))
            .retraction
            .count,
        0
    );
}

#[test]
fn odd_lines_are_placed_and_passed_over() {
    let reading = of(&format!(
        "{START}G1 Xnan Y5 E1 F600\nG1 X1e300 E1\nhow did this get here at all\nN5 G1 X9*1\n{}",
        square(0.2)
    ));
    let lines: Vec<u64> = reading.problems.iter().map(|p| p.line).collect();
    assert_eq!(
        lines,
        [6, 8, 9],
        "X1 E300 is two words: {:?}",
        reading.problems
    );
    assert!(reading.is_print_file());
    assert!(!of("\u{7f}ELF rubbish here now\nmore of this rubbish here\n").is_print_file());
}

/// Keys of the format that may never go.
const KEYS: &str = "/file/bytes /file/lines /file/sha256 /file/compressed /extrusion /units /arcs
    /firmware_retraction /sequential /layers/count /layers/first_z_mm /layers/last_z_mm
    /layers/typical_height_mm /filament_mm /time_s /time_without_acceleration_s /mesh
    /temperatures/nozzle_first_layer_c /temperatures/nozzle_c /temperatures/bed_first_layer_c
    /temperatures/bed_c /temperatures/chamber_c /temperatures/changes /fan/first_layer_percent
    /fan/max_percent /fan/on_from_layer /retraction/count /retraction/length_mm
    /retraction/speed_mm_s /retraction/per_metre /retraction/most_on_one_stretch
    /flow/peak_mm3_s /flow/p95_mm3_s /first_layer/height_mm /first_layer/speed_mm_s
    /first_layer/line_width_mm /layer_time/shortest_s /layer_time/shortest_layer
    /layer_time/under_8_s /seam/aligned /unsupported_starts /settings /problems /at/layer
    /at/z_mm /at/figures /at/jumps /layer_list/1/layer_time_s";

#[test]
fn the_report_has_every_key_that_is_promised() {
    let reading = of(&format!("{START}{}{}", square(0.2), square(0.4)));
    let file = report::FileFacts {
        bytes: 9,
        sha256: "x".into(),
        packed: None,
        text_bytes: 9,
    };
    let wanted = report::Wanted {
        layers: true,
        at: Some(0.3),
        says: None,
    };
    let json = report::json(&file, &reading, wanted);
    for path in KEYS.split_whitespace() {
        assert!(json.pointer(path).is_some(), "{path}");
    }
}
