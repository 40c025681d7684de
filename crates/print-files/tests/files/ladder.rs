//! Ladders read back are the ladders that were made; what would harm is refused.

use crate::kit::{facts, made, small};
use suspect_core::evidence::Facts;
use suspect_core::gcode::ladder::{Plan, Quantity, Refusal, make};
use suspect_core::gcode::read;
use suspect_core::knowledge::Knowledge;
use suspect_print_files::made::Recipe;

fn plan(quantity: Quantity, from: f64, step: f64) -> Plan {
    Plan {
        quantity,
        from,
        step,
        band_mm: 4.0,
        base_mm: 1.0,
    }
}

#[test]
fn a_ladder_read_back_is_the_ladder() {
    let knowledge = Knowledge::shipped();
    let (text, plain, _) = made(&Recipe {
        fan: 0.0,
        ..small()
    });
    let pla = facts("", "");
    for (quantity, from, step) in [
        (Quantity::NozzleC, 220.0, -5.0),
        (Quantity::FanPercent, 20.0, 20.0),
        (Quantity::FlowRatio, 0.9, 0.05),
        (Quantity::SpeedPercent, 60.0, 20.0),
    ] {
        let ladder = make(
            &knowledge,
            &pla,
            text.as_bytes(),
            &plan(quantity, from, step),
        )
        .unwrap();
        let back = read(&ladder.text);
        assert_eq!(ladder.bands.len(), 4);
        assert_eq!(back.layers.len(), plain.layers.len());
        for band in &ladder.bands {
            let inside = back
                .layers
                .iter()
                .find(|l| l.z - 0.1 > band.from_mm)
                .unwrap();
            assert_eq!(
                inside.line,
                band.line + 1,
                "{quantity}: the command stands before its layer"
            );
            let value = match quantity {
                Quantity::NozzleC => f64::from(inside.nozzle.value),
                Quantity::FanPercent => f64::from(inside.fan.value) * 100.0,
                Quantity::FlowRatio => f64::from(inside.flow_factor.value),
                _ => f64::from(inside.speed_factor.value) * 100.0,
            };
            assert!(
                (value - band.value).abs() < 0.3,
                "{quantity} {value} {band:?}"
            );
        }
        // Nothing else changes: without the commands put in it is the file it was.
        let without: Vec<&str> = std::str::from_utf8(&ladder.text)
            .unwrap()
            .lines()
            .filter(|l| !l.contains("; band of"))
            .collect();
        assert!(without.into_iter().eq(text.lines()));
    }
}

#[test]
fn a_ladder_is_refused_where_it_would_harm_or_teach_nothing() {
    let knowledge = Knowledge::shipped();
    let (text, ..) = made(&Recipe {
        fan_change: Some((9.0, 40.0)),
        ..small()
    });
    let make = |facts: &Facts, plan: &Plan| make(&knowledge, facts, text.as_bytes(), plan);
    let pla = facts("", "");
    let hot = make(&pla, &plan(Quantity::NozzleC, 215.0, 20.0)).unwrap_err();
    assert!(matches!(hot, Refusal::Window { .. }), "{hot}");
    let lined = facts(r#""hotend": "lined""#, "");
    let mut unknown = lined;
    unknown.context.set("material", "petg").unwrap();
    let hot = make(&unknown, &plan(Quantity::NozzleC, 230.0, 5.0)).unwrap_err();
    assert!(hot.to_string().contains("lined"), "{hot}");
    let retract = make(&pla, &plan(Quantity::RetractMm, 0.5, 0.2)).unwrap_err();
    assert_eq!(retract, Refusal::NoFirmwareRetraction);
    let own = make(&pla, &plan(Quantity::FanPercent, 0.0, 20.0)).unwrap_err();
    assert!(
        matches!(own, Refusal::Set { .. }),
        "the file changes its fan itself: {own}"
    );
    let low = Plan {
        band_mm: 12.0,
        ..plan(Quantity::NozzleC, 215.0, -5.0)
    };
    assert!(matches!(make(&pla, &low).unwrap_err(), Refusal::Low { .. }));
    for (band_mm, step) in [(0.3, -5.0), (4.0, 0.0), (f64::NAN, -5.0)] {
        let odd = Plan {
            band_mm,
            step,
            ..plan(Quantity::NozzleC, 215.0, -5.0)
        };
        assert!(matches!(make(&pla, &odd).unwrap_err(), Refusal::Number(_)));
    }
}
