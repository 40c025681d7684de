//! Places on a photo: of the reference, of a line, of marks. Dragged with scripts, typed without.

use crate::form::Fields;
use crate::pages::parts::reading::InputView;
use crate::{show, urls};
use std::fmt::Write;
use suspect_core::measures::{Input, Inputs, Raw};
use suspect_core::settings::read_number;

/// What is measured on a photo.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Kind {
    /// A length and an angle.
    Distance,
    /// Two heights above a line.
    Heights,
    /// The spacing of bands or ripples along a line.
    Rhythm,
}

/// A group of places: field, what it is, places from the left and top as shares.
type Group = (&'static str, &'static str, &'static [(f64, f64)]);

const REFERENCE: Group = ("ref_px", "the reference", &[(0.15, 0.88), (0.45, 0.88)]);
const LINE: Group = ("line_px", "the line", &[(0.4, 0.25), (0.4, 0.7)]);
const BASE: Group = ("base_px", "the base line", &[(0.1, 0.8), (0.9, 0.8)]);
const FIRST: Group = ("mark1_px", "the first mark", &[(0.35, 0.4)]);
const SECOND: Group = ("mark2_px", "the second mark", &[(0.65, 0.4)]);

impl Kind {
    /// All.
    pub const ALL: [Kind; 3] = [Kind::Distance, Kind::Heights, Kind::Rhythm];

    /// By its name in an address; a length where there is none.
    pub fn named(id: &str) -> Self {
        let found = Self::ALL.into_iter().find(|k| k.id() == id);
        found.unwrap_or(Kind::Distance)
    }

    /// Its name in an address.
    pub fn id(self) -> &'static str {
        match self {
            Kind::Distance => "distance",
            Kind::Heights => "heights",
            Kind::Rhythm => "rhythm",
        }
    }

    /// In words.
    pub fn words(self) -> &'static str {
        match self {
            Kind::Distance => "Length and angle",
            Kind::Heights => "Two heights",
            Kind::Rhythm => "Bands or ripples",
        }
    }

    /// The measure that reckons it.
    pub fn measure(self) -> &'static str {
        match self {
            Kind::Distance => "photo-distance",
            Kind::Heights => "photo-heights",
            Kind::Rhythm => "photo-rhythm",
        }
    }

    /// The output that goes on into other measures.
    pub fn result(self) -> &'static str {
        match self {
            Kind::Distance => "length_mm",
            Kind::Heights => "height1_mm",
            Kind::Rhythm => "spacing_mm",
        }
    }

    /// Measures and inputs that ask for such a number.
    pub fn goes_into(self) -> &'static [(&'static str, &'static str)] {
        match self {
            Kind::Distance => &[
                ("shift-size", "step_mm"),
                ("missing-restart", "missing_mm"),
                ("coasting-volume", "gap_mm"),
            ],
            Kind::Heights => &[("tower-reading", "z_mm")],
            Kind::Rhythm => &[
                ("band-spacing", "span_mm"),
                ("rib-spacing", "span_mm"),
                ("ringing", "spacing_mm"),
            ],
        }
    }

    /// Whether an input of the measure is given by places.
    pub fn places(self, input: &str) -> bool {
        input.ends_with("_px") && input != "click_px" || input == "profile"
    }

    fn groups(self) -> &'static [Group] {
        match self {
            Kind::Distance => &[REFERENCE, LINE],
            Kind::Heights => &[REFERENCE, BASE, FIRST, SECOND],
            Kind::Rhythm => &[REFERENCE, LINE],
        }
    }
}

/// Places of one group, with what was wrong with them.
struct Places {
    group: &'static Group,
    at: Vec<(f64, f64)>,
    error: Option<String>,
}

/// The places on a photo.
pub struct Placed {
    pub kind: Kind,
    /// Width and height of the photo, in pixels.
    pub size: (u32, u32),
    groups: Vec<Places>,
}

impl Placed {
    /// Places as they were sent, or where they lie before anybody has moved them.
    pub fn read(kind: Kind, fields: &Fields, size: (u32, u32)) -> Self {
        let groups = kind.groups().iter().map(|group| {
            let begin = || {
                group
                    .2
                    .iter()
                    .map(|(x, y)| (x * f64::from(size.0), y * f64::from(size.1)))
            };
            let (at, error) = match fields.given(group.0) {
                None => (begin().map(|(x, y)| (x.round(), y.round())).collect(), None),
                Some(text) => match read(group, text, size) {
                    Ok(at) => (at, None),
                    Err(why) => (begin().collect(), Some(why)),
                },
            };
            Places { group, at, error }
        });
        Self {
            kind,
            size,
            groups: groups.collect(),
        }
    }

    fn of(&self, field: &str) -> &[(f64, f64)] {
        let found = self.groups.iter().find(|g| g.group.0 == field);
        found.map_or(&[], |g| &g.at)
    }

    /// The ends of the line that is read.
    pub fn line(&self) -> [f64; 4] {
        match self.of(LINE.0) {
            [(x1, y1), (x2, y2)] => [*x1, *y1, *x2, *y2],
            _ => [0.0; 4],
        }
    }

    /// Puts the places, or what was read between them, among the inputs.
    pub fn fill(&self, raw: &mut Inputs, profile: Option<&[f64]>) {
        let list =
            |values: &mut dyn Iterator<Item = f64>| Raw::List(values.map(Raw::Number).collect());
        if self.kind == Kind::Rhythm {
            if let Some(profile) = profile {
                raw.insert("profile".into(), list(&mut profile.iter().copied()));
            }
            if let [a, b] = self.of(REFERENCE.0) {
                let length = (a.0 - b.0).hypot(a.1 - b.1);
                raw.insert("scale_px".into(), Raw::Number(length));
            }
            if let Some(mm) = raw.remove("ref_mm") {
                raw.insert("scale_mm".into(), mm);
            }
            return;
        }
        for group in &self.groups {
            let mut flat = group.at.iter().flat_map(|(x, y)| [*x, *y]);
            raw.insert(group.group.0.into(), list(&mut flat));
        }
    }

    /// Parameters that bring the same places again.
    pub fn parameters(&self) -> Vec<(&'static str, String)> {
        let one = |g: &Places| (g.group.0, written(&g.at));
        self.groups.iter().map(one).collect()
    }

    /// The address of another way to measure on this photo, the reference kept.
    pub fn address(&self, action: &str, to: Kind, fields: &Fields) -> String {
        let mut all = vec![
            ("what", to.id().to_string()),
            ("into", fields.get("into").to_string()),
            ("ref_px", written(self.of(REFERENCE.0))),
        ];
        for name in ["ref_mm", "scale_mm"] {
            let scale = if to == Kind::Rhythm {
                "scale_mm"
            } else {
                "ref_mm"
            };
            all.extend(fields.given(name).map(|v| (scale, v.to_string())));
        }
        if to == self.kind {
            all.extend(
                self.parameters()
                    .into_iter()
                    .filter(|(n, _)| *n != "ref_px"),
            );
        }
        urls::with(action, &all)
    }

    /// The fields of the places, for whoever types them.
    pub fn views(&self) -> Vec<InputView> {
        let one = |g: &Places| InputView {
            id: g.group.0,
            label: format!("{}: from the left, from the top", show::capital(g.group.1)),
            unit: "px",
            value: written(&g.at),
            several: true,
            error: g.error.clone(),
            ..InputView::default()
        };
        self.groups.iter().map(one).collect()
    }

    /// The places drawn over the photo: lines, and grips to drag or move by keys.
    pub fn overlay(&self) -> String {
        let (w, h) = (f64::from(self.size.0), f64::from(self.size.1));
        let long = w.max(h);
        // A thumb reaches for more than it sees.
        let (grip, reach, letter) = (0.022 * long, 0.06 * long, 0.026 * long);
        let mut svg = format!(
            r#"<svg viewBox="0 0 {w} {h}" preserveAspectRatio="none" role="group"
                aria-label="Places on the photo">"#
        );
        for group in &self.groups {
            let (field, words, _) = group.group;
            let class = if *field == REFERENCE.0 { " ref" } else { "" };
            if let [(x1, y1), (x2, y2)] = group.at[..] {
                for kind in ["line-edge", "line"] {
                    let _ = write!(
                        svg,
                        r#"<line class="{kind}{class}" data-of="{field}" x1="{x1:.1}" y1="{y1:.1}"
                            x2="{x2:.1}" y2="{y2:.1}"/>"#
                    );
                }
                let (x, y) = (f64::midpoint(x1, x2), f64::midpoint(y1, y2) - 0.3 * letter);
                let _ = write!(
                    svg,
                    r#"<text x="{x:.1}" y="{y:.1}" font-size="{letter:.1}">{}</text>"#,
                    words.trim_start_matches("the ")
                );
            }
            for (n, (x, y)) in group.at.iter().enumerate() {
                let end = match group.at.len() {
                    1 => String::new(),
                    _ => format!(", end {}", n + 1),
                };
                let _ = write!(
                    svg,
                    r#"<g class="grip hand{class}" tabindex="0" role="button"
                        id="grip-{field}-{n}" aria-label="{}{end}: {x:.0} from the left, {y:.0} from
                        the top; arrow keys move it" data-field="{field}" data-nth="{n}"
                        data-x="{x:.1}" data-y="{y:.1}" transform="translate({x:.1} {y:.1})"><circle
                        class="reach" r="{reach:.1}"/><circle class="ring" r="{grip:.1}"/></g>"#,
                    show::capital(words)
                );
            }
        }
        svg + "</svg>"
    }
}

/// Places as they stand in a field.
fn written(at: &[(f64, f64)]) -> String {
    let all: Vec<String> = at
        .iter()
        .flat_map(|(x, y)| [x, y].map(|v| show::number((v * 10.0).round() / 10.0)))
        .collect();
    all.join(" ")
}

fn read(group: &Group, text: &str, (w, h): (u32, u32)) -> Result<Vec<(f64, f64)>, String> {
    let (_, words, begin) = group;
    let wanted = 2 * begin.len();
    let numbers = Input::parts(text);
    let numbers = numbers.iter().map(|t| read_number(words, t));
    let numbers: Vec<f64> = numbers
        .collect::<Result<_, _>>()
        .map_err(|why| crate::words::refusal::number(&why))?;
    if numbers.len() != wanted {
        let many = numbers.len();
        return Err(format!(
            "{} takes {wanted} numbers in pixels, but {many} were given.",
            show::capital(words)
        ));
    }
    let places: Vec<(f64, f64)> = numbers.chunks(2).map(|c| (c[0], c[1])).collect();
    let inside = |(x, y): &(f64, f64)| {
        (0.0..=f64::from(w) - 1.0).contains(x) && (0.0..=f64::from(h) - 1.0).contains(y)
    };
    match places.iter().all(inside) {
        true => Ok(places),
        false => Err(format!(
            "{} must lie on the photo of {w} × {h} pixels.",
            show::capital(words)
        )),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn placed(kind: Kind, fields: &[(&str, &str)]) -> Placed {
        let pairs = fields
            .iter()
            .map(|(n, v)| ((*n).to_string(), (*v).to_string()));
        Placed::read(kind, &Fields::of(pairs), (1600, 1200))
    }

    #[test]
    fn places_lie_on_the_photo_before_anybody_moves_them_and_come_back_as_sent() {
        for kind in Kind::ALL {
            let begun = placed(kind, &[]);
            assert!(begun.views().iter().all(|v| v.error.is_none()));
            let sent = begun.parameters();
            let sent: Vec<(&str, &str)> = sent.iter().map(|(n, v)| (*n, v.as_str())).collect();
            assert_eq!(placed(kind, &sent).parameters(), begun.parameters());
            let grips = begun.overlay().matches("class=\"grip").count();
            let places: usize = begun
                .views()
                .iter()
                .map(|v| v.value.split(' ').count() / 2)
                .sum();
            assert_eq!(grips, places, "a grip for each place");
        }
    }

    #[test]
    fn what_is_no_place_is_told_with_what_would_do() {
        for (text, told) in [
            ("1 2 3", "takes 4 numbers"),
            ("1 2 3 x", "number"),
            ("0 0 1600 0", "must lie on the photo of 1600 × 1200"),
            ("-1 0 5 5", "must lie on the photo"),
        ] {
            let places = placed(Kind::Distance, &[("line_px", text)]);
            let views = places.views();
            let wrong = views.iter().find_map(|v| v.error.clone()).unwrap();
            assert!(wrong.contains(told), "{text}: {wrong}");
        }
    }

    #[test]
    fn a_reference_keeps_its_length_when_something_else_is_measured() {
        let fields = [
            ("ref_px", "10 20 410 20"),
            ("ref_mm", "50"),
            ("line_px", "1 2 3 4"),
        ];
        let pairs = fields
            .iter()
            .map(|(n, v)| ((*n).to_string(), (*v).to_string()));
        let sent = Fields::of(pairs);
        let places = Placed::read(Kind::Distance, &sent, (1600, 1200));
        let to = places.address("/measure", Kind::Rhythm, &sent);
        assert!(
            to.contains("ref_px=10+20+410+20") && to.contains("scale_mm=50"),
            "{to}"
        );
        assert!(!to.contains("line_px"), "its own line begins anew: {to}");
        let mut raw = Inputs::new();
        placed(Kind::Rhythm, &fields).fill(&mut raw, Some(&[1.0; 70]));
        assert_eq!(raw["scale_px"], Raw::Number(400.0));
        assert!(matches!(&raw["profile"], Raw::List(all) if all.len() == 70));
    }
}
