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
