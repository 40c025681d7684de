//! Where layers begin and end, and what is found in them.

use crate::gcode::{START, close, of, square};
use suspect_core::gcode::{LineType, jumps, seam};

#[test]
fn layers_follow_marks_where_there_are_any() {
    let marked: String = (1..=4)
        .map(|n| {
            format!(
                ";LAYER_CHANGE\n;Z:{0}\n;HEIGHT:0.2\n{1}",
                0.2 * f64::from(n),
                square(0.2 * f64::from(n))
            )
        })
        .collect();
    let purge = "G1 Z0.3\nG1 X60 E8 F1200\n";
    let reading = of(&format!("{START}{purge}{marked}"));
    assert_eq!(reading.layers.len(), 4);
    close(reading.outside.filament, 8.0);
    close(reading.layers[0].z, 0.2);
    // A mark without plastic is no layer, and another way of saying the same is none either.
    let twice = of(&format!(
        "{START}{}",
        marked.replace(";Z:", ";LAYER_CHANGE\n; layer 3\n;Z:")
    ));
    assert_eq!(twice.layers.len(), 4);
}

#[test]
fn without_marks_the_height_at_which_plastic_is_laid_tells_the_layers() {
    let hop = "G1 Z5 F600\nG1 X0 Y0\nG1 Z0.2\n";
    let hops = of(&format!(
        "{START}{}{hop}{}{}",
        square(0.2),
        square(0.2),
        square(0.4)
    ));
    assert_eq!(hops.layers.len(), 2, "a hop lays nothing");
    // Support of its own height, between two layers.
    let support = of(&format!(
        "{START}{}{}{}",
        square(0.2),
        square(0.3),
        square(0.4)
    ));
    let heights: Vec<f64> = support
        .layers
        .iter()
        .map(|l| (l.height * 100.0).round())
        .collect();
    assert_eq!(heights, [20.0, 10.0, 10.0]);
    // A line that primes the nozzle too high is no layer.
    let prime = of(&format!(
        "{START}G1 Z.3\nG1 X60 E8 F1200\n{}{}",
        square(0.2),
        square(0.4)
    ));
    assert_eq!(prime.layers.len(), 2);
    close(prime.outside.filament, 8.0);
}

#[test]
fn a_spiral_is_as_many_layers_as_it_is_layers_high() {
    let mut text = format!("{START}{}", square(0.2));
    for step in 1..=400 {
        let angle = f64::from(step) / 20.0 * std::f64::consts::TAU;
        let z = 0.2 + 0.2 * f64::from(step) / 20.0;
        let (y, x) = (10.0 + 10.0 * angle.sin(), 10.0 + 10.0 * angle.cos());
        text += &format!("G1 X{x:.3} Y{y:.3} Z{z:.3} E.1\n");
    }
    let reading = of(&text);
    assert!(
        (20..=22).contains(&reading.layers.len()),
        "{}",
        reading.layers.len()
    );
    assert!(!reading.sequential());
    assert_eq!(reading.typical_height(), Some(0.2));
}

#[test]
fn one_object_after_another_is_seen_where_z_falls_back() {
    let tower = |x: f64| -> String {
        (1..=5)
            .map(|n| {
                let z = 0.2 * f64::from(n);
                format!(
                    "G1 X{x} Y0 Z{z}\nG1 X{0} Y0 E1 F1200\nG1 X{0} Y9 E1\nG1 X{x} Y0 E1\n",
                    x + 9.0
                )
            })
            .collect()
    };
    let reading = of(&format!("{START}{}G1 Z20\n{}", tower(0.0), tower(60.0)));
    assert!(reading.sequential());
    assert_eq!(reading.layers.len(), 10);
    assert_eq!(reading.layers.iter().map(|l| l.air_starts).sum::<u32>(), 0);
    close(reading.layers[5].height, 0.2);
}

#[test]
fn starts_in_the_air_and_seams_are_found() {
    let island = "G1 X60 Y60 F6000\nG1 X80 Y60 E1 F600\n";
    let reading = of(&format!(
        "{START}{}{}{}{island}",
        square(0.2),
        square(0.4),
        square(0.6)
    ));
    let air: Vec<u32> = reading.layers.iter().map(|l| l.air_starts).collect();
    assert_eq!(air, [0, 0, 1]);
    let many: String = (1..=9).map(|n| square(0.2 * f64::from(n))).collect();
    let aligned = of(&format!("{START}{many}"));
    assert!(seam::alignment(&aligned).unwrap().aligned());
    assert_eq!(aligned.layers[3].seams.len(), 1);
    assert!(aligned.by_type(LineType::OuterLoop).0 > 0.0, "guessed");
}

#[test]
fn a_bridge_is_a_span_and_infill_over_infill_is_none() {
    // Ribs two millimetres apart, and lines across them.
    let rib = |n: u32, z: f64, x: f64| {
        let y = 2.0 * f64::from(n);
        format!("G1 X0 Y{y} Z{z} F6000\nG1 X{x} Y{y} E1 F1200\n")
    };
    let ribs: String = (0..=20).map(|n| rib(n, 0.2, 40.0)).collect();
    let second: String = (0..=20).map(|n| rib(n, 0.4, 40.0)).collect();
    let across: String = (1..=19)
        .map(|n| format!("G1 X{0} Y0 Z0.6\nG1 X{0} Y40 E2\n", 2 * n))
        .collect();
    let infill = of(&format!("{START}{ribs}{second}{across}"));
    assert_eq!(infill.layers.len(), 3);
    assert_eq!(infill.sum(|l| l.bridges), 0.0);
    // Two posts, and in the third layer one line from the one to the other and beyond.
    let posts = |z: f64| -> String {
        [0.0, 30.0]
            .map(|x| format!("G1 X{x} Y0 Z{z}\nG1 X{} Y0 E1 F1200\n", x + 10.0))
            .concat()
    };
    let beam = "G1 X0 Y0 Z0.6\nG1 X20 Y0 E1\nG1 X45 Y0 E1\n";
    let bridge = of(&format!("{START}{}{}{beam}", posts(0.2), posts(0.4)));
    let spans: Vec<f64> = bridge.layers.iter().map(|l| l.bridges.round()).collect();
    assert_eq!(
        spans,
        [0.0, 0.0, 25.0],
        "twenty between the posts, five beyond"
    );
}

#[test]
fn a_height_tells_its_layer_and_what_jumps_there() {
    let mut text = START.to_owned();
    for n in 1..=40 {
        if n == 21 {
            text += "M106 S153\n";
        }
        if n == 1 {
            text += "M106 S255\n";
        }
        text += &square(0.2 * f64::from(n));
    }
    let reading = of(&text);
    let found = jumps::at(&reading, 4.2);
    assert_eq!(found.len(), 1, "{found:?}");
    assert_eq!((found[0].from, found[0].to), (100.0, 60.0));
    assert!((found[0].z - 4.0).abs() < 1e-6);
    assert!(jumps::at(&reading, 7.0).is_empty());
    assert_eq!(reading.layer_at(4.1), Some(20));
}
