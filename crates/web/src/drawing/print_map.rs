//! The print map: a small lighthouse with every kind of surface a print can have, to touch where it looks wrong.

use super::spot::{Spot, Tally};
use std::fmt::Write;

/// Size of the drawing.
const WIDTH: f64 = 360.0;
const HEIGHT: f64 = 640.0;
/// The plate's surface and the finial's tip: between them the ruler runs.
const FOOT: f64 = 566.0;
const TIP: f64 = 40.0;

/// Label, target and touching shape of a place.
struct Layout {
    id: &'static str,
    label: (f64, f64),
    target: (f64, f64),
    shape: &'static str,
}

const PLACES: [Layout; 14] = [
    Layout { id: "foot", label: (8.0, 556.0), target: (104.0, 552.0), shape: "M92 538H268V566H92Z" },
    Layout { id: "wall", label: (8.0, 306.0), target: (152.0, 322.0), shape: "M146 240H214L236 538H124Z" },
    Layout { id: "corner", label: (352.0, 556.0), target: (296.0, 530.0), shape: "M284 470H308V548H284Z" },
    Layout { id: "band", label: (352.0, 306.0), target: (226.0, 396.0), shape: "M132 380H228L229 412H131Z" },
    Layout { id: "seam", label: (352.0, 232.0), target: (201.0, 286.0), shape: "M188 240H208L220 380H196ZM200 414H222L228 538H206Z" },
    Layout { id: "overhang", label: (8.0, 232.0), target: (132.0, 224.0), shape: "M112 206H248L216 242H144Z" },
    Layout { id: "bridge", label: (352.0, 446.0), target: (316.0, 482.0), shape: "M298 472H340V498H298Z" },
    Layout { id: "posts", label: (8.0, 156.0), target: (142.0, 166.0), shape: "M126 136H234V194H126Z" },
    Layout { id: "top", label: (352.0, 380.0), target: (266.0, 462.0), shape: "M234 456L252 444H312L298 470H236Z" },
    Layout { id: "slope", label: (352.0, 108.0), target: (206.0, 112.0), shape: "M122 136L172 82H188L238 136Z" },
    Layout { id: "finial", label: (8.0, 66.0), target: (180.0, 62.0), shape: "M164 36H196V84H164Z" },
    Layout { id: "detail", label: (352.0, 620.0), target: (262.0, 504.0), shape: "M244 486H282V522H244Z" },
    Layout { id: "inside", label: (8.0, 470.0), target: (154.0, 470.0), shape: "M138 424H190V516H134Z" },
    Layout { id: "whole", label: (8.0, 620.0), target: (8.0, 620.0), shape: "M0 0" },
];

/// One place as the page knows it.
pub struct PlaceLink<'a> {
    pub id: &'a str,
    pub name: &'a str,
    pub href: String,
    pub chosen: bool,
    pub tally: Tally,
}

/// Where the fault was put: its share of the piece's height, 0 at the plate.
pub struct Ruler {
    pub share: f64,
    pub piece_mm: f64,
    pub known: bool,
}

/// The map with its places and the ruler.
pub fn svg(places: &[PlaceLink], ruler: &Ruler) -> String {
    let mut out = format!(r#"<svg class="map print-map" viewBox="0 0 {WIDTH} {HEIGHT}" role="group" aria-label="Map of a print">"#);
    out.push_str(LIGHTHOUSE);
    for layout in &PLACES {
        if let Some(place) = places.iter().find(|p| p.id == layout.id) {
            let spot = Spot {
                name: place.name,
                href: place.href.clone(),
                chosen: place.chosen,
                tally: place.tally,
                label: layout.label,
                target: layout.target,
                shape: layout.shape,
                width: WIDTH,
            };
            spot.draw(&mut out);
        }
    }
    draw_ruler(&mut out, ruler);
    out.push_str("</svg>");
    out
}

/// A line across the piece with a grip. The script moves it; the fields beside it do the same without.
fn draw_ruler(out: &mut String, ruler: &Ruler) {
    let y = FOOT - ruler.share.clamp(0.0, 1.0) * (FOOT - TIP);
    let class = if ruler.known { "ruler known" } else { "ruler" };
    let value = ruler.share * ruler.piece_mm;
    let _ = write!(
        out,
        r#"<g class="{class}" data-foot="{FOOT}" data-tip="{TIP}" data-piece="{}" transform="translate(0 {y:.1})" role="slider" tabindex="0" aria-label="Height of the fault in millimetres" aria-orientation="vertical" aria-valuemin="0" aria-valuemax="{}" aria-valuenow="{value:.1}"><path class="ruler-line" d="M84 0H276"/><rect class="hit" x="60" y="-22" width="48" height="44"/><path class="ruler-grip" d="M66 -11H92L102 0L92 11H66Z"/><path class="ruler-lines" d="M74 -4H86M74 0H86M74 4H86"/></g>"#,
        ruler.piece_mm, ruler.piece_mm
    );
}

/// The piece itself: drawn once, below everything that answers.
const LIGHTHOUSE: &str = concat!(
    // plate
    r#"<path class="metal" d="M56 566H304V575H56Z"/>"#,
    // foot, tower, annex with its porch
    r#"<path class="plastic" d="M92 538H268V566H92Z"/>"#,
    r#"<path class="plastic" d="M146 240H214L236 538H124Z"/>"#,
    r#"<path class="plastic" d="M236 470H298V566H236Z"/><path class="plastic side" d="M298 470L312 444V540L298 566Z"/><path class="plastic light" d="M234 470L252 444H312L298 470Z"/>"#,
    r#"<path class="plastic" d="M298 480H340V492H298Z"/><path class="plastic" d="M328 492H338V566H328Z"/>"#,
    // layer lines, seam, band
    r#"<path class="faint" d="M145 258H215M144 276H217M142 294H218M141 312H219M140 330H221M138 348H222M137 366H223M134 424H228M133 442H229M131 460H231M130 478H232M129 496H233M127 514H235M98 552H262M242 488H294M242 548H294"/>"#,
    r#"<path class="plastic band" d="M135 384H225L227 408H133Z"/>"#,
    r#"<path class="seam" d="M198 242L205 384M208 408L216 538"/>"#,
    // cut open: infill
    r#"<path class="hollow" d="M142 428L184 426L188 512L138 514Z"/><path class="faint strong" d="M142 428L188 512M164 427L188 470M141 470L163 513M184 426L138 514M163 427L140 470M187 470L164 513"/>"#,
    // lettering on the annex
    r#"<path class="ink" d="M248 494H256L249 516H257M263 494V516M263 494H276M263 504H272"/>"#,
    // gallery with its overhang
    r#"<path class="plastic side" d="M112 206H248L216 240H144Z"/><path class="plastic" d="M108 194H252V206H108Z"/>"#,
    // posts, roof, finial
    r#"<path class="plastic" d="M130 136H138V194H130ZM156 136H164V194H156ZM196 136H204V194H196ZM222 136H230V194H222Z"/>"#,
    r#"<path class="plastic" d="M122 136L172 82H188L238 136Z"/><path class="faint" d="M134 124H226M145 112H215M156 100H204"/>"#,
    r#"<path class="plastic" d="M174 82V62L180 40L186 62V82Z"/>"#,
);

#[cfg(test)]
mod tests {
    use super::*;
    use suspect_core::intake;

    #[test]
    fn every_place_of_the_core_is_drawn_inside_the_map() {
        for place in &intake::PLACES {
            let layout = PLACES.iter().find(|l| l.id == place.id).unwrap_or_else(|| panic!("{} is not drawn", place.id));
            for (x, y) in [layout.label, layout.target] {
                assert!((0.0..=WIDTH).contains(&x) && (0.0..=HEIGHT).contains(&y), "{}", place.id);
            }
        }
    }
}
