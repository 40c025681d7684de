//! Upkeep that is due once a mark moved.

use crate::book::{BEGUN, K, log, skiff};
use suspect_core::book::{Book, Reason, due};
use suspect_core::knowledge::Knowledge;
use suspect_core::machine::MachineEvent;
use time::Duration;

fn kept(task: &str, wrong: bool) -> MachineEvent {
    MachineEvent::Kept {
        task: task.into(),
        wrong,
        note: String::new(),
    }
}

fn grub_screws(told: &[(i64, MachineEvent)]) -> Option<Reason> {
    let (_, context) = skiff();
    let book = Book::of(&log(told.to_vec()));
    let all = due(&K, &context, &book, None, &[], BEGUN + Duration::days(30));
    let of = all.iter().find(|d| d.task.id == "grub-screws")?;
    assert!(of.now());
    Some(of.reason)
}

#[test]
fn screws_are_tightened_once_their_marks_moved_and_until_they_were() {
    let sound = (1, kept("pulley-marks", false));
    assert_eq!(grub_screws(std::slice::from_ref(&sound)), None);
    let moved = (2, kept("pulley-marks", true));
    let at = BEGUN + Duration::days(2);
    let told = [sound, moved];
    assert_eq!(grub_screws(&told), Some(Reason::Mark { at }));
    let tightened = [told.to_vec(), vec![(3, kept("grub-screws", false))]].concat();
    assert_eq!(grub_screws(&tightened), None);
    let before_a_print = MachineEvent::LookedOver {
        seen: Vec::new(),
        wrong: vec!["marks-unmoved".into()],
    };
    let again = [tightened, vec![(9, before_a_print)]].concat();
    let at = BEGUN + Duration::days(9);
    assert_eq!(grub_screws(&again), Some(Reason::Mark { at }));
}

#[test]
fn a_mark_that_nobody_looks_at_is_no_knowledge() {
    let mut files = Knowledge::shipped_files();
    let text = files.get_mut("upkeep.toml").unwrap();
    *text = text.replace("[\"pulley-marks\", ", "[\"pulley-mark\", ");
    let problems = Knowledge::load(&files).unwrap_err();
    let said = problems.iter().map(ToString::to_string);
    let said: Vec<String> = said.collect();
    let odd = said
        .iter()
        .any(|p| p.contains("`pulley-mark` is no other look"));
    assert!(odd, "{said:?}");
}
