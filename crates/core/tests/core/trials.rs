//! Trials: the worked cases, the tables, lists that make no plan.

use serde_json::{Value, json};
use suspect_core::trials::{
    Answer, Course, Goal, Ladder, LadderProblem, List, Request, Tables, information,
};

const CASES: &str = include_str!("trials-cases.json");

fn cases() -> Vec<Value> {
    let file: Value = serde_json::from_str(CASES).unwrap();
    file["cases"].as_array().unwrap().clone()
}

fn answer(case: &Value) -> Value {
    let request = Request::read(&case.to_string()).unwrap();
    serde_json::to_value(request.answer().unwrap()).unwrap()
}

fn near(told: &Value, expected: f64, what: &str) {
    let told = told.as_f64().unwrap_or_else(|| panic!("{what}: {told}"));
    assert!(
        (told - expected).abs() < 1e-6,
        "{what}: {told}, expected {expected}"
    );
}

#[test]
fn the_worked_cases_come_out_as_written() {
    let cases = cases();
    assert!(cases.len() >= 12);
    for case in &cases {
        let id = case["id"].as_str().unwrap();
        let (told, expect) = (answer(case), &case["expect"]);
        for key in ["elsewhere", "comes_and_goes", "contradiction_db"] {
            if let Some(p) = expect[key].as_f64() {
                near(&told[key], p, &format!("{id} {key}"));
            }
        }
        for key in ["sums", "cures_alone", "case_decibans"] {
            for (name, p) in expect[key].as_object().into_iter().flatten() {
                near(
                    &told[key][name],
                    p.as_f64().unwrap(),
                    &format!("{id} {key} {name}"),
                );
            }
        }
        for (k, line) in expect["top"].as_array().into_iter().flatten().enumerate() {
            near(
                &told["top"][k]["p"],
                line["p"].as_f64().unwrap(),
                &format!("{id} top {k}"),
            );
            let (mut told, mut line) = (told["top"][k].clone(), line.clone());
            (told["p"], line["p"]) = (json!(0), json!(0));
            assert_eq!(told, line, "{id} top {k}");
        }
        for key in ["best", "low", "high", "below", "above"] {
            if let Some(value) = expect[key].as_f64() {
                near(&told[key], value, &format!("{id} {key}"));
            }
        }
        verdict(id, &told, &expect["verdict"]);
        work_around(id, &told, &expect["work_around"]);
        next(id, case, &told, &expect["next"]);
        bits(id, case, &expect["information_bits"]);
    }
}

fn verdict(id: &str, told: &Value, expect: &Value) {
    if expect.is_null() {
        return;
    }
    let told = &told["verdict"];
    near(
        &told["p"],
        expect["p"].as_f64().unwrap(),
        &format!("{id} verdict"),
    );
    for key in ["kind", "state", "units", "piece"] {
        if !expect[key].is_null() {
            assert_eq!(told[key], expect[key], "{id} verdict {key}");
        }
    }
    if let Some(names) = expect["one_of"].as_array() {
        assert!(names.contains(&told["units"][0]), "{id}: {told}");
    }
}

fn work_around(id: &str, told: &Value, expect: &Value) {
    if expect.is_null() {
        return;
    }
    let told = &told["work_around"];
    assert_eq!(told["old"], expect["old"], "{id}");
    assert_eq!(told["stop"], expect["stop"], "{id}");
    for key in ["price_minutes", "going_on_minutes"] {
        near(
            &told[key],
            expect[key].as_f64().unwrap(),
            &format!("{id} {key}"),
        );
    }
}

fn next(id: &str, case: &Value, told: &Value, expect: &Value) {
    let old = &told["next"]["old"];
    let has = |key: &str| expect[key].as_array().is_some_and(|all| all.contains(old));
    if expect["acceptable"].is_array() {
        assert!(has("acceptable"), "{id}: {old}");
        assert!(!has("not_acceptable"), "{id}: {old}");
    }
    if let Some(best) = expect["best_expected_minutes"].as_f64() {
        let minutes = told["next"]["expected_minutes"].as_f64().unwrap();
        assert!(
            (minutes / best - 1.0).abs() <= 0.02,
            "{id}: {minutes}, best {best}"
        );
    }
    if let Some(reference) = expect["reference_expected_minutes"].as_f64() {
        let minutes = told["next"]["expected_minutes"].as_f64().unwrap();
        assert!(
            minutes <= 1.02 * reference,
            "{id}: {minutes}, reference {reference}"
        );
        let list: List = serde_json::from_value(case["plan"].clone()).unwrap();
        assert!(list.differences.len() >= 20);
    }
}

/// What a piece tells, after the case's own pieces.
fn bits(id: &str, case: &Value, expect: &Value) {
    let Some(pieces) = expect.as_array() else {
        return;
    };
    let asked: suspect_core::trials::PlanRequest = serde_json::from_value(case.clone()).unwrap();
    let planned = asked.plan.plan().unwrap();
    let names: Vec<&str> = asked
        .plan
        .differences
        .iter()
        .map(|d| d.name.as_str())
        .collect();
    let set = |old: &[String]| {
        planned.units(
            old.iter()
                .map(|o| names.iter().position(|n| n == o).unwrap()),
        )
    };
    let mut course = Course::new(&planned.plan);
    for piece in &asked.trials {
        course.add(&suspect_core::trials::Look {
            piece: piece.label.clone(),
            old: set(&piece.old),
            grade: piece.grade,
            confidence: piece.confidence,
        });
    }
    for piece in pieces {
        let old: Vec<String> = serde_json::from_value(piece["old"].clone()).unwrap();
        let told = information(&planned.plan, &course.belief, set(&old));
        near(
            &json!(told),
            piece["bits"].as_f64().unwrap(),
            &format!("{id} {old:?}"),
        );
    }
}

/// The table of the eye, as it was worked out once by hand.
#[test]
fn grades_are_as_likely_as_the_table_says() {
    let tables = Tables::new(1.0, 0.10);
    let columns = tables.grades();
    let clean = [0.0207, 0.0575, 0.0208, 0.0120, 0.2355, 0.6534];
    let half = [0.0104, 0.0374, 0.1952, 0.5140, 0.1980, 0.0450];
    let fault = [0.1867, 0.5179, 0.1867, 0.0100, 0.0262, 0.0726];
    for g in 0..6 {
        assert!((columns[g].clean - clean[g]).abs() < 6e-5, "clean {g}");
        assert!((columns[g].half - half[g]).abs() < 6e-5, "half {g}");
        assert!((columns[g].fault - fault[g]).abs() < 6e-5, "fault {g}");
    }
}

/// Four cells of hardware and configuration: three never settle it, the fourth does.
#[test]
fn two_by_two_needs_its_fourth_cell() {
    let cell = |grades: &[(&[&str], u8)]| {
        let trials: Vec<Value> = grades
            .iter()
            .enumerate()
            .map(|(k, (old, grade))| {
                json!({ "label": format!("T{k}-A"), "old": old, "grade": grade })
            })
            .collect();
        answer(&json!({
            "plan": { "differences": [{ "name": "hardware" }, { "name": "configuration" }] },
            "trials": trials,
        }))
    };
    let corners: [(&[&str], u8); 2] = [(&[], 1), (&["hardware", "configuration"], 5)];
    for third in [5, 3, 1] {
        let told = cell(&[corners[0], corners[1], (&["hardware"], third)]);
        assert_eq!(told["verdict"]["state"], "open", "third cell {third}");
    }
    let told = cell(&[
        corners[0],
        corners[1],
        (&["hardware"], 5),
        (&["configuration"], 1),
    ]);
    assert_eq!(told["verdict"]["units"], json!(["hardware"]));
    assert!((told["sums"]["alone"].as_f64().unwrap() - 0.95).abs() < 0.02);
    let told = cell(&[
        corners[0],
        corners[1],
        (&["hardware"], 5),
        (&["configuration"], 5),
    ]);
    assert!((told["sums"]["together"].as_f64().unwrap() - 0.48).abs() < 0.01);
}

#[test]
fn a_list_that_makes_no_plan_says_what_is_wrong() {
    let refused = |plan: Value| {
        let list: List = serde_json::from_value(plan).unwrap();
        list.plan().unwrap_err().to_string()
    };
    let named =
        |names: &[&str]| -> Vec<Value> { names.iter().map(|n| json!({ "name": n })).collect() };
    let told = refused(json!({ "differences": [] }));
    assert!(told.contains("at least one thing that differs"), "{told}");
    let told = refused(json!({ "differences": named(&["fan", "fan"]) }));
    assert!(
        told.contains("two differences are called \"fan\""),
        "{told}"
    );
    let told = refused(json!({ "differences": [{ "name": "fan", "old": "60", "new": " 60" }] }));
    assert!(told.contains("is \"60\" on both sides"), "{told}");
    let many: Vec<String> = (0..500).map(|k| format!("d{k}")).collect();
    let many: Vec<&str> = many.iter().map(String::as_str).collect();
    let told = refused(json!({ "differences": named(&many) }));
    assert!(
        told.contains("500 differences") && told.contains("at most 60"),
        "{told}"
    );
    let told = refused(json!({ "differences": named(&many[..61]) }));
    assert!(told.contains("61 differences"), "{told}");
    let told = refused(json!({ "differences": [{ "name": "fan", "needs": ["fam"] }] }));
    assert!(told.contains("did you mean `fan`"), "{told}");
    let told = refused(json!({ "differences": named(&["fan"]), "slip": 0.6 }));
    assert!(told.contains("slip is 0.6"), "{told}");
    let told = refused(json!({ "differences": named(&["fan"]), "shares": {
        "elsewhere": 0.5, "comes_and_goes": 0.3, "together": 0.2, "separate": 0.1 } }));
    assert!(told.contains("leave something for one alone"), "{told}");
}

/// Those that need each other are put back as one, with weights and prices added.
#[test]
fn what_goes_only_together_is_one_unit() {
    let list: List = serde_json::from_value(json!({ "differences": [
        { "name": "firmware", "needs": ["profile"], "swap_minutes": 20 },
        { "name": "fan" },
        { "name": "profile", "needs": ["firmware"], "swap_minutes": 5, "suspicion": "likely" },
    ] }))
    .unwrap();
    let planned = list.plan().unwrap();
    assert_eq!(planned.unit_of, [0, 1, 0]);
    assert_eq!(planned.plan.units[0].name, "firmware + profile");
    assert!((planned.plan.units[0].weight - 6.0).abs() < 1e-12);
    assert!((planned.plan.units[0].swap - 25.0).abs() < 1e-12);
    assert_eq!(planned.differences(planned.units([2])), [0, 2]);
}

#[test]
fn pieces_that_cannot_have_been_made_are_refused_by_name() {
    let refused = |trials: Value| {
        let request = Request::read(
            &json!({ "plan": { "differences": [
            { "name": "smoothing", "needs": ["firmware"] }, { "name": "firmware" } ] },
            "trials": trials })
            .to_string(),
        )
        .unwrap();
        request.answer().unwrap_err().to_string()
    };
    let told = refused(json!([{ "label": "T2-A", "old": ["smoothing"], "grade": 5 }]));
    assert!(
        told.contains("T2-A") && told.contains("needs \"firmware\""),
        "{told}"
    );
    let told = refused(json!([{ "label": "T2-A", "old": ["firmwear"], "grade": 5 }]));
    assert!(told.contains("did you mean `firmware`"), "{told}");
    let told = refused(json!([{ "label": "T2-A", "old": [], "grade": 9 }]));
    assert!(told.contains("0 to 5, not 9"), "{told}");
}

#[test]
fn a_ladder_is_read_from_either_end_and_refused_when_uneven() {
    let read = |values: &[f64], grades: &[Option<u8>]| {
        let ladder = Ladder {
            values: values.to_vec(),
            grades: grades.to_vec(),
        };
        ladder.read()
    };
    let grades = [Some(1), Some(3), Some(5), Some(4), Some(2)];
    let up = read(&[190.0, 195.0, 200.0, 205.0, 210.0], &grades).unwrap();
    let mut turned = grades;
    turned.reverse();
    let down = read(&[210.0, 205.0, 200.0, 195.0, 190.0], &turned).unwrap();
    assert!((up.best - down.best).abs() < 1e-9);
    assert!(up.low <= down.low && down.low <= up.best && up.best <= down.high);
    let rising = read(&[190.0, 195.0, 200.0], &[Some(1), Some(3), Some(5)]).unwrap();
    assert!(rising.above > 0.3, "{rising:?}");
    assert_eq!(read(&[1.0], &[Some(1)]), Err(LadderProblem::Bands(1)));
    let uneven = read(&[1.0, 2.0, 9.0], &[None, None, None]);
    assert!(
        matches!(uneven, Err(LadderProblem::Uneven(_))),
        "{uneven:?}"
    );
    let unread = read(&[1.0, 2.0], &[None, None]).unwrap();
    assert!(
        (unread.best - 1.5).abs() < 1e-9,
        "nothing read says nothing: {unread:?}"
    );
}

#[test]
fn a_second_look_at_one_piece_counts_half() {
    let looks = |labels: [&str; 2]| {
        answer(&json!({
            "plan": { "differences": [{ "name": "a" }, { "name": "b" }] },
            "trials": labels.map(|l| json!({ "label": l, "old": ["a"], "grade": 5 })),
        }))
    };
    let cure = |told: Value| told["cures_alone"]["a"].as_f64().unwrap();
    let (same, other) = (cure(looks(["T2-A", "T2-A"])), cure(looks(["T2-A", "T2-B"])));
    assert!(same < other, "{same} {other}");
    let request = Request::read(
        &json!({ "ladder": {
        "values": [1.0, 2.0], "grades": [5, 0] } })
        .to_string(),
    )
    .unwrap();
    assert!(matches!(request.answer(), Ok(Answer::Ladder(_))));
    assert_eq!(Goal::default(), Goal::Repair);
}
