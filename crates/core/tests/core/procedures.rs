//! Procedures that cannot be done as they stand are refused, each with its step and why.

use std::collections::BTreeMap;
use suspect_core::knowledge::{Act, Knowledge, Stands, standings};

/// What a knowledge says to a fix with these steps.
fn problems(steps: &str, state: &str) -> Vec<String> {
    let mut files: BTreeMap<String, String> = Knowledge::shipped_files();
    let file = files.get_mut("fixes/motion.toml").unwrap();
    let start = file.find("[tighten-pulley]").unwrap();
    let end = start + file[start..].find("\n[ease-wheels]").unwrap();
    file.replace_range(
        start..end,
        &format!(
            "[tighten-pulley]\nname = \"Try\"\nkind = \"easy\"\nminutes = 5\nstate = [{state}]\n\
             steps = [{steps}]\n"
        ),
    );
    match Knowledge::load(&files) {
        Ok(_) => Vec::new(),
        Err(problems) => problems.into_iter().map(|p| p.message).collect(),
    }
}

/// A step that does these things, said to be done so.
fn step(act: &str, state: &str) -> String {
    format!("{{ do = \"Do it.\", act = \"{act}\", state = \"{state}\" }},")
}

fn refused(steps: &[(&str, &str)], state: &str, why: &str) {
    let steps: String = steps.iter().map(|(act, state)| step(act, state)).collect();
    let said = problems(&steps, state);
    assert!(
        said.iter().any(|p| p.contains(why)),
        "{steps}: expected \"{why}\", but {said:?}"
    );
}

#[test]
fn what_cannot_be_done_in_that_order_is_refused() {
    let cold = "\"cold\"";
    refused(&[("", "hot")], cold, "step 1 is to be done hot");
    refused(
        &[("heat", ""), ("", "cold")],
        "",
        "step 2 is to be done cold",
    );
    refused(&[("wires", "")], cold, "`wires` while the plug is in");
    refused(
        &[("switch-off board", "")],
        "",
        "`board` while the plug is in",
    );
    refused(&[("by-hand", "")], "", "`by-hand` while it can move");
    refused(
        &[("heat block-tool", "")],
        "",
        "a metal tool at a block that may be live",
    );
    refused(
        &[("switch-off open plug-in heat", "")],
        "",
        "`heat` with a cover or duct off",
    );
    refused(&[("unplug heat", "")], "", "`heat` needs power");
    refused(&[("heat unplug cool", "")], "", "cools without its fan");
    refused(
        &[("unplug cool-unplugged", "")],
        "",
        "which only a stop asks for",
    );
    refused(&[("unload", "")], cold, "`unload` needs a hot block");
    refused(
        &[("heat", ""), ("print-part", "")],
        "",
        "before anything is taken apart",
    );
    refused(
        &[("heat unplug block-tool nozzle tube-home", "")],
        "",
        "no later step sets it anew",
    );
    refused(
        &[("heat switch-off tube-out", "")],
        "",
        "no later step pushes the tube home",
    );
    refused(&[("fly", "")], "", "`fly` is not one of");
}

#[test]
fn what_can_be_done_passes() {
    let good = [
        ("heat unload unplug open", "hot unplugged unloaded open"),
        ("block-tool nozzle", "hot"),
        ("tube-home close plug-in heat", "hot powered closed"),
        ("unplug block-tool plug-in cool", "cold powered"),
        ("set-height load", ""),
    ];
    let steps: String = good[..4].iter().map(|(a, s)| step(a, s)).collect();
    let said = problems(&(steps + &step("set-height", "")), "\"hot\"");
    assert!(said.is_empty(), "{said:?}");
}

#[test]
fn nothing_runs_on_a_machine_that_a_stop_holds() {
    let k = Knowledge::shipped();
    let running = [Act::Heat, Act::HeatBed, Act::Move, Act::Print, Act::Power];
    for stop in &k.stops {
        let acts = stop.work.steps.iter().flat_map(|s| &s.acts);
        assert!(acts.clone().all(|a| !running.contains(a)), "{}", stop.id);
    }
}

#[test]
fn every_step_says_how_the_machine_stands() {
    let k = Knowledge::shipped();
    let work = &k.fix(k.fix_id("hot-tighten-nozzle").unwrap()).work;
    let words: Vec<Vec<Stands>> = standings(work).iter().map(|s| s.words()).collect();
    assert!(words[0].contains(&Stands::Cold) && words[0].contains(&Stands::Unplugged));
    assert!(words[1].contains(&Stands::Hot) && words[1].contains(&Stands::Unplugged));
    assert!(words[2].contains(&Stands::Hot) && !words[2].contains(&Stands::Unplugged));
    // Heated only once hands are away from it, tightened only once the plug is out.
    let heats = work.steps.iter().position(|s| s.acts.contains(&Act::Heat));
    let tool = work
        .steps
        .iter()
        .rposition(|s| s.acts.contains(&Act::BlockTool));
    assert!(heats < tool);
}
