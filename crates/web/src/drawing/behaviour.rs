//! Behaviours of the machine: one schematic, the part concerned drawn strong, what it does in the
//! fault's colour.

use super::sign::Pen;

/// The machine in faint strokes: frame, gantry, head, spool, feeder, tube, bed, board.
fn schematic(pen: &mut Pen) {
    pen.path("frame", "M18 84V10H102V84M10 84H110");
    pen.path("frame", "M18 38H102");
    pen.path("frame", "M50 30H70V46H50Z");
    pen.path("frame", "M56 46H64V51L61 55H59L56 51Z");
    pen.path("frame", "M32 68H88V72H32Z");
    pen.path("frame", "M40 72V78M80 72V78M34 78H86");
    pen.round("frame", 92.0, 18.0, 7.0);
    pen.round("frame", 92.0, 18.0, 2.0);
    pen.path("frame", "M24 24H36V34H24Z");
    pen.path("frame", "M85 15C60 4 30 10 30 24M30 34C34 46 44 22 58 30");
    pen.path("frame", "M92 74H100V82H92Z");
}

/// The picture of a behaviour, or nothing for a finding that is not a machine's behaviour.
pub fn svg(id: &str, label: &str) -> Option<String> {
    let mut pen = Pen::default();
    schematic(&mut pen);
    if !part(&mut pen, id) {
        return None;
    }
    let label = super::escape(label);
    Some(format!(
        r#"<svg class="sign behaviour" viewBox="0 0 120 90" role="img"
            aria-label="{label}">{}</svg>"#,
        pen.finish()
    ))
}

fn part(pen: &mut Pen, id: &str) -> bool {
    match id {
        "extruder-clicks" => {
            feeder(pen);
            pen.path("bad", "M12 22l6 4M10 30h7M12 38l6-4");
        }
        "filament-notched" => {
            pen.path("bold", "M50 58V88");
            pen.path("strand", "M70 58V66q-7 6 0 12V88");
            pen.round("bold", 84.0, 72.0, 10.0);
            pen.path(
                "bold",
                "M74 72h-3M84 62v-3M84 82v3M77 65l-2-2M77 79l-2 2M91 65l2-2M91 79l2 2",
            );
            pen.path("bad", "M56 72h8M61 68l4 4-4 4");
        }
        "spool-drags" => {
            spool(pen);
            pen.path(
                "bad",
                "M80 26a13 13 0 1 0 0-16M80 26l-1-6M80 26l6-1M88 14l8 8M96 13l-8 10",
            );
        }
        "pops-heard" => {
            nozzle(pen);
            pen.round("bad", 54.0, 60.0, 2.2);
            pen.round("bad", 66.0, 61.0, 1.8);
            pen.round("bad", 60.0, 64.0, 2.6);
            pen.path("bad", "M46 54q-5 4-2 9M74 54q5 4 2 9");
        }
        "heatsink-fan" => fan(pen, 42.0, 36.0),
        "part-fan" => {
            fan(pen, 78.0, 44.0);
            pen.path("bad dashed", "M72 52L64 60");
        }
        "temperature-wanders" => {
            block(pen);
            pen.path("bad", "M74 56q4-12 8 0t8 0 8 0");
            pen.path("bold", "M72 64H102M72 64V46");
        }
        "heat-error-stop" => {
            block(pen);
            pen.path("bad", "M84 44L98 68H70ZM84 52v8M84 63.500v1");
        }
        "wires-loose-at-block" => {
            block(pen);
            pen.path(
                "bad",
                "M70 42c8-6 6 6 12 2M70 45c6 8 10 0 14 6M86 42l5-4M88 52l5 3",
            );
        }
        "plastic-above-block" => {
            block(pen);
            pen.path("blob", "M48 44c-5-4 0-9 4-8 0-6 12-6 14-1 6-2 9 6 4 9z");
        }
        "nozzle-wobbles-hot" => {
            nozzle(pen);
            pen.path(
                "bad",
                "M46 52a16 12 0 0 0 8 9M74 52a16 12 0 0 1-8 9M46 57v-5l5 1M74 57v-5l-5 1",
            );
        }
        "burnt-smell" => {
            board(pen);
            pen.path(
                "bad",
                "M92 70q-5-5 0-9t0-9M98 70q-5-5 0-9t0-9M104 70q-5-5 0-9t0-9",
            );
        }
        "heater-stays-on" => {
            block(pen);
            pen.path(
                "bad",
                "M78 66c-6-8 2-10 1-18 7 4 10 10 5 18zM90 50h12M96 44v12",
            );
        }
        "mains-exposed" => {
            pen.path("bold", "M100 80c8 0 4-10 12-10");
            pen.path(
                "bad",
                "M112 70l-3-4M112 70l4 2M106 52l-6 10h5l-3 9 9-12h-5l3-7z",
            );
        }
        "loud-knock" => {
            head(pen);
            pen.path(
                "bad",
                "M78 30l4-6M80 38h8M78 46l4 6M86 26l3-5M90 34l6-2M90 43l6 2",
            );
        }
        "cable-snags" => {
            head(pen);
            pen.path("bad", "M70 32c14-14 20 8 30-4M94 22l8 4-5 7");
        }
        "homing-wrong" => {
            head(pen);
            pen.path("bold", "M20 32h6v12h-6");
            pen.path("bad", "M46 38H32M37 33l-5 5 5 5M22 26l3-5M28 26l5-4");
        }
        "stutters" => {
            head(pen);
            pen.path("bad", "M74 38h3M80 38h7M90 38h2M95 38h4M78 28h4M86 28h9");
        }
        "sounds" => {
            head(pen);
            pen.path("bad", "M76 30q5 8 0 16M82 27q8 11 0 22M88 24q11 14 0 28");
        }
        "screw-stands-still" => {
            pen.path("bold", "M96 14V62M93 20l6-3M93 30l6-3M93 40l6-3M93 50l6-3");
            pen.block("bold", 90.0, 66.0, 12.0, 12.0, 2.0);
            pen.path(
                "bad",
                "M86 84a12 5 0 0 0 20 0M106 89v-5l-5 1M104 34l8 8M112 34l-8 8",
            );
        }
        "gantry-drops" => {
            pen.path("bold", "M18 38H102");
            pen.path("bad", "M32 42v16M28 53l4 6 4-6M88 42v16M84 53l4 6 4-6");
        }
        "sags-one-side" => {
            pen.path("bold", "M18 32L102 46");
            pen.path("bad", "M108 36v14M104 45l4 6 4-6");
        }
        "head-strikes-wiper" => {
            nozzle(pen);
            pen.path("bold", "M66 56h18v8H66z");
            pen.path("bad", "M65 50l5-5M68 54l8-2M64 58l-3 6");
        }
        "bed-screws-drift" => {
            pen.path("bold", "M34 72V82M86 72V82M30 82h8M82 82h8");
            pen.path(
                "bad",
                "M26 78a9 6 0 0 0 14 6M40 88v-5l-5 1M94 78a9 6 0 0 1-14 6M80 88v-5l5 1",
            );
        }
        "height-changes-between-prints" => {
            bed(pen);
            nozzle(pen);
            pen.path("bad", "M100 50v16M96 55l4-5 4 5M96 61l4 5 4-5");
            pen.path("bad dashed", "M68 55h28M90 67h6");
        }
        "probe-retries" => {
            pen.path("bold", "M72 40h6v14h-6zM75 54v6");
            bed(pen);
            pen.path("bad", "M75 62v5M86 56a7 7 0 1 1-3-6M86 56l1-6M86 56l-6-1");
        }
        "ooze-at-homing" => {
            nozzle(pen);
            bed(pen);
            pen.path("blob", "M59 55h2q1 4 0 7 3 4-1 5-4-1-1-5-1-3 0-7z");
        }
        "plate-crooked" => {
            pen.path("bold", "M30 70L90 62V66L30 74Z");
            pen.round("bad", 84.0, 69.5, 2.4);
            pen.path("bad", "M96 70v-8M93 66l3-4 3 4");
        }
        "plate-missing" => {
            pen.block("wanted", 32.0, 66.0, 56.0, 4.0, 1.0);
            pen.path("bad", "M50 58l20 16M70 58L50 74");
        }
        "nozzle-cuts-bed" => {
            pen.path("bold", "M56 52H64V62L61 70H59L56 62Z");
            pen.path("bold", "M32 68H57L60 73L63 68H88V76H32Z");
            pen.path("bad", "M50 62l-5-5M70 62l5-5M46 66l-7-2M74 66l7-2");
        }
        "chamber-heats-slowly" => {
            pen.block("bold", 14.0, 5.0, 92.0, 79.0, 3.0);
            pen.path("bold", "M26 66V50a3 3 0 0 1 6 0V66a5 5 0 1 1-6 0z");
            pen.path("bad", "M29 68v-6M92 60a8 8 0 1 1 0-.1M84 55v5l4 3");
        }
        _ => return false,
    }
    true
}

fn feeder(pen: &mut Pen) {
    pen.block("bold", 22.0, 22.0, 16.0, 14.0, 2.0);
    pen.round("bold", 30.0, 29.0, 4.0);
}

fn spool(pen: &mut Pen) {
    pen.round("bold", 92.0, 18.0, 9.0);
    pen.round("bold", 92.0, 18.0, 2.0);
}

fn head(pen: &mut Pen) {
    pen.block("bold", 49.0, 29.0, 22.0, 18.0, 2.0);
}

fn block(pen: &mut Pen) {
    pen.block("bold", 50.0, 38.0, 20.0, 9.0, 1.0);
    nozzle(pen);
}

fn nozzle(pen: &mut Pen) {
    pen.path("bold", "M55 46H65V51L61 56H59L55 51Z");
}

fn bed(pen: &mut Pen) {
    pen.block("bold", 32.0, 67.0, 56.0, 4.0, 1.0);
}

fn board(pen: &mut Pen) {
    pen.block("bold", 90.0, 73.0, 12.0, 10.0, 1.0);
}

fn fan(pen: &mut Pen, x: f64, y: f64) {
    pen.block("bold", x - 9.0, y - 9.0, 18.0, 18.0, 3.0);
    pen.round("bold", x, y, 2.0);
    pen.path(
        "bold",
        &format!(
            "M{x} {:.1}c-3-6 3-7 3-2M{:.1} {y}c6-3 7 3 2 3M{x} {:.1}c3 6-3 7-3 2M{:.1} {y}c-6 \
                3-7-3-2-3",
            y - 2.0,
            x + 2.0,
            y + 2.0,
            x - 2.0
        ),
    );
    pen.path(
        "bad",
        &format!(
            "M{:.1} {:.1}l8 8M{:.1} {:.1}l-8 8",
            x - 22.0,
            y - 4.0,
            x - 14.0,
            y - 4.0
        ),
    );
}

#[cfg(test)]
mod tests {
    use suspect_core::knowledge::{Knowledge, Section};

    #[test]
    fn every_behaviour_of_the_machine_has_a_picture_of_its_own() {
        let mut seen = std::collections::HashSet::new();
        for finding in Knowledge::shipped()
            .findings
            .iter()
            .filter(|f| f.section == Section::Machine)
        {
            let picture = super::svg(&finding.id, "x")
                .unwrap_or_else(|| panic!("{} has no picture", finding.id));
            assert!(seen.insert(picture), "{} is drawn like another", finding.id);
        }
    }
}
