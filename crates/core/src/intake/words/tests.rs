use super::*;

fn proposed(text: &str) -> Vec<String> {
    let k = Knowledge::shipped();
    let sure = |p: &Proposal| {
        if p.confidence == Confidence::Sure {
            ""
        } else {
            "?"
        }
    };
    let proposals = Matcher::new(&k).propose(&k, text);
    proposals
        .iter()
        .map(|p| format!("{}={}{}", k.finding(p.finding).id, p.state, sure(p)))
        .collect()
}

#[test]
fn plain_words_propose_what_they_mean() {
    for (text, expected) in [
        (
            "The extruder clicks and there are gaps in the top",
            vec!["extruder-clicks=present", "gaps-top-skin=present"],
        ),
        ("top has gaps", vec!["gaps-top-skin=present"]),
        (
            "It doesn't stick to the bed.",
            vec!["will-not-stick=present"],
        ),
        ("first layer sticks fine", vec!["will-not-stick=absent"]),
        ("no strings", vec!["strings=none"]),
        (
            "lots of popping, no stringing",
            vec!["pops-heard=present", "strings=none"],
        ),
        (
            "suddenly a layer shift to the left",
            vec!["onset=sudden", "layer-step=present", "axis=x"],
        ),
        (
            "there is no layer shift but it strings",
            vec!["layer-step=absent", "strings=hairs"],
        ),
        ("maybe some warping", vec!["corners-lift=present?"]),
        ("nothing comes out", vec!["nothing-extruded=present"]),
        (
            "spagetti all over",
            vec!["spaghetti=present", "along-loop=everywhere"],
        ),
        ("elefant foot", vec!["flare-at-foot=present"]),
        (
            "new spool, left it out, it was open for months",
            vec!["last-change=spool", "spool-age=open-weeks"],
        ),
        (
            "no warping, blobs everywhere or strings",
            vec![
                "corners-lift=absent",
                "blobs-scattered=absent",
                "strings=none",
            ],
        ),
        (
            "not sure but the nozzle wobbles",
            vec!["nozzle-wobbles-hot=present"],
        ),
        ("I like cheese", vec![]),
        ("", vec![]),
        ("<script>alert(1)</script>", vec![]),
    ] {
        assert_eq!(proposed(text), expected, "{text}");
    }
}

#[test]
fn words_are_not_taken_across_what_they_were_said_of() {
    for (text, expected, not) in [
        (
            "nothing comes out of the nozzle after I changed the spool",
            "nothing-extruded=present",
            "last-change=nozzle-or-hotend",
        ),
        (
            "nothing comes out of the nozzle after I changed the spool",
            "last-change=spool",
            "fades-out=present",
        ),
        (
            "at the same height on two different models",
            "same-height=same-height-any-model",
            "same-height=same-height-this-model",
        ),
        (
            "corners of my box lift off",
            "corners-lift=present",
            "over-time=comes-and-goes",
        ),
        (
            "the fan makes a loud noise",
            "sounds=rattle",
            "loud-knock=present",
        ),
        (
            "stopped printing in the middle",
            "fades-out=present",
            "printed-in-air=present",
        ),
        (
            "stuck to the bed too hard",
            "sticks-too-hard=present",
            "will-not-stick=absent",
        ),
    ] {
        let found = proposed(text);
        assert!(found.iter().any(|f| f == expected), "{text}: {found:?}");
        assert!(!found.iter().any(|f| f == not), "{text}: {found:?}");
    }
}

#[test]
fn words_that_told_nothing_once_are_read() {
    for (text, expected) in [
        ("blobby", "blobs-scattered=present"),
        ("looks hairy", "strings=hairs"),
        ("it looks melted", "melted-tips=present"),
        ("shorter than it should be", "too-short=present"),
        ("lines on the side", "bands-regular=present"),
        (
            "first layer feels like sandpaper",
            "ridges-thrown-up=present",
        ),
        ("the print moved halfway", "layer-step=present"),
        ("the nozzle drags", "ploughed-top=present"),
        ("I hear grinding", "sounds=rumble"),
        ("the wheel clicks", "extruder-clicks=present"),
        ("belts were serviced", "last-change=belts-or-motion"),
        ("print moved 4 mm in X", "axis=x"),
        ("a cable is melted, display hot", "burnt-smell=present"),
        ("smoke from the board", "burnt-smell=present"),
    ] {
        let found = proposed(text);
        assert!(found.iter().any(|f| f == expected), "{text}: {found:?}");
    }
}

#[test]
fn what_told_nothing_is_named() {
    let k = Knowledge::shipped();
    let read = Matcher::new(&k).read(&k, "It strings a lot, the flux capacitor howls at night.");
    assert_eq!(read.unread, ["flux capacitor howls at night"]);
    assert!(Matcher::new(&k).read(&k, "no strings").unread.is_empty());
}

#[test]
fn the_words_are_quoted_as_written() {
    let k = Knowledge::shipped();
    let text = "Ça va… The corners don’t lift, ÄÖ STRINGS!";
    let proposals = Matcher::new(&k).propose(&k, text);
    assert_eq!(
        proposals
            .iter()
            .map(|p| p.words.as_str())
            .collect::<Vec<_>>(),
        ["corners don’t lift", "STRINGS"]
    );
}

#[test]
fn every_phrase_is_found_by_itself() {
    let k = Knowledge::shipped();
    let matcher = Matcher::new(&k);
    for phrase in &k.phrases {
        let proposals = matcher.propose(&k, &phrase.text);
        let hit = proposals
            .iter()
            .any(|p| p.finding == phrase.finding && p.state == phrase.state);
        assert!(
            hit,
            "\"{}\" ({}={}) gives {proposals:?}",
            phrase.text,
            k.finding(phrase.finding).id,
            phrase.state
        );
    }
}

#[test]
fn a_title_is_the_first_sentence() {
    assert_eq!(
        title("gaps on top. It clicks too.").as_deref(),
        Some("Gaps on top")
    );
    assert_eq!(title("  \n "), None);
    let long = "word ".repeat(40);
    let cut = title(&long).unwrap();
    assert!(cut.ends_with('…') && cut.chars().count() <= 70, "{cut}");
}
