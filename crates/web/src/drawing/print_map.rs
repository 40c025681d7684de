//! The print map: a small lighthouse with every kind of surface a print can have, to touch where it
//! looks wrong.

use super::spot::{Spot, Tally};
use std::fmt::Write;

/// Size of the drawing.
const WIDTH: f64 = 420.0;
const HEIGHT: f64 = 664.0;
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
    Layout {
        id: "foot",
        label: (4.0, 600.0),
        target: (134.0, 552.0),
        shape: "M122 538H298V566H122Z",
    },
    Layout {
        id: "wall",
        label: (4.0, 306.0),
        target: (182.0, 322.0),
        shape: "M176 240H244L266 538H154Z",
    },
    Layout {
        id: "corner",
        label: (416.0, 600.0),
        target: (326.0, 530.0),
        shape: "M314 470H338V548H314Z",
    },
    Layout {
        id: "band",
        label: (416.0, 330.0),
        target: (256.0, 396.0),
        shape: "M162 380H258L259 412H161Z",
    },
    Layout {
        id: "seam",
        label: (416.0, 250.0),
        target: (231.0, 286.0),
        shape: "M218 240H238L250 380H226ZM230 414H252L258 538H236Z",
    },
    Layout {
        id: "overhang",
        label: (4.0, 232.0),
        target: (162.0, 224.0),
        shape: "M142 206H278L246 242H174Z",
    },
    Layout {
        id: "bridge",
        label: (416.0, 436.0),
        target: (346.0, 482.0),
        shape: "M328 472H370V498H328Z",
    },
    Layout {
        id: "posts",
        label: (4.0, 156.0),
        target: (172.0, 166.0),
        shape: "M156 136H264V194H156Z",
    },
    Layout {
        id: "top",
        label: (416.0, 386.0),
        target: (296.0, 462.0),
        shape: "M264 456L282 444H342L328 470H266Z",
    },
    Layout {
        id: "slope",
        label: (416.0, 110.0),
        target: (236.0, 112.0),
        shape: "M152 136L202 82H218L268 136Z",
    },
    Layout {
        id: "finial",
        label: (4.0, 66.0),
        target: (210.0, 62.0),
        shape: "M194 36H226V84H194Z",
    },
    Layout {
        id: "detail",
        label: (416.0, 646.0),
        target: (292.0, 504.0),
        shape: "M274 486H312V522H274Z",
    },
    Layout {
        id: "inside",
        label: (4.0, 470.0),
        target: (184.0, 470.0),
        shape: "M168 424H220V516H164Z",
    },
    Layout {
        id: "whole",
        label: (4.0, 646.0),
        target: (4.0, 646.0),
        shape: "M0 0",
    },
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
    drawn(places, Some(ruler))
}

/// The places alone, without a height.
pub fn places(places: &[PlaceLink]) -> String {
    drawn(places, None)
}

fn drawn(places: &[PlaceLink], ruler: Option<&Ruler>) -> String {
    let mut out = format!(
        r#"<svg class="map print-map" viewBox="0 0 {WIDTH} {HEIGHT}" role="group" aria-label="Map
            of a print">"#
    );
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
    if let Some(ruler) = ruler {
        draw_ruler(&mut out, ruler);
    }
    out.push_str("</svg>");
    out
}

/// A line across the piece with a grip. The script moves it; the fields beside it do the same
/// without.
fn draw_ruler(out: &mut String, ruler: &Ruler) {
    let y = FOOT - ruler.share.clamp(0.0, 1.0) * (FOOT - TIP);
    let class = if ruler.known { "ruler known" } else { "ruler" };
    let value = ruler.share * ruler.piece_mm;
    let _ = write!(
        out,
        r#"<g class="{class}" data-foot="{FOOT}" data-tip="{TIP}" data-piece="{}"
            transform="translate(0 {y:.1})" role="slider" tabindex="0" aria-label="Height of the
            fault in millimetres" aria-orientation="vertical" aria-valuemin="0" aria-valuemax="{}"
            aria-valuenow="{value:.1}"><path class="ruler-line" d="M122 0H306"/><rect class="hit"
            x="78" y="-26" width="54" height="52"/><path class="ruler-grip" d="M84 -11H110L120
            0L110 11H84Z"/><path class="ruler-lines" d="M92 -4H104M92 0H104M92 4H104"/></g>"#,
        ruler.piece_mm, ruler.piece_mm
    );
}

/// The piece itself: drawn once, below everything that answers.
const LIGHTHOUSE: &str = concat!(
    // plate
    r#"<path class="metal" d="M86 566H334V575H86Z"/>"#,
    // foot, tower, annex with its porch
    r#"<path class="plastic" d="M122 538H298V566H122Z"/>"#,
    r#"<path class="plastic" d="M176 240H244L266 538H154Z"/>"#,
    r#"<path class="plastic" d="M266 470H328V566H266Z"/><path class="plastic side" d="M328 470L342
        444V540L328 566Z"/><path class="plastic light" d="M264 470L282 444H342L328 470Z"/>"#,
    r#"<path class="plastic" d="M328 480H370V492H328Z"/><path class="plastic" d="M358
        492H368V566H358Z"/>"#,
    // layer lines, seam, band
    r#"<path class="faint" d="M175 258H245M174 276H247M172 294H248M171 312H249M170 330H251M168
        348H252M167 366H253M164 424H258M163 442H259M161 460H261M160 478H262M159 496H263M157
        514H265M128 552H292M272 488H324M272 548H324"/>"#,
    r#"<path class="plastic band" d="M165 384H255L257 408H163Z"/>"#,
    r#"<path class="seam" d="M228 242L235 384M238 408L246 538"/>"#,
    // cut open: infill
    r#"<path class="hollow" d="M172 428L214 426L218 512L168 514Z"/><path class="faint strong"
        d="M172 428L218 512M194 427L218 470M171 470L193 513M214 426L168 514M193 427L170 470M217
        470L194 513"/>"#,
    // lettering on the annex
    r#"<path class="ink" d="M279 500c0-9 11-9 11-1 0 6-8 10-11 17h12M296 494h12l-8 22"/>"#,
    // gallery with its overhang
    r#"<path class="plastic side" d="M142 206H278L246 240H174Z"/><path class="plastic" d="M138
        194H282V206H138Z"/>"#,
    // posts, roof, finial
    r#"<path class="plastic" d="M160 136H168V194H160ZM186 136H194V194H186ZM226 136H234V194H226ZM252
        136H260V194H252Z"/>"#,
    r#"<path class="plastic" d="M152 136L202 82H218L268 136Z"/><path class="faint" d="M164
        124H256M175 112H245M186 100H234"/>"#,
    r#"<path class="plastic" d="M204 82V62L210 40L216 62V82Z"/>"#,
);

#[cfg(test)]
mod tests {
    use super::*;
    use suspect_core::intake;

    #[test]
    fn every_place_of_the_core_is_drawn_inside_the_map() {
        for place in &intake::PLACES {
            let layout = PLACES
                .iter()
                .find(|l| l.id == place.id)
                .unwrap_or_else(|| panic!("{} is not drawn", place.id));
            for (x, y) in [layout.label, layout.target] {
                assert!(
                    (0.0..=WIDTH).contains(&x) && (0.0..=HEIGHT).contains(&y),
                    "{}",
                    place.id
                );
            }
        }
    }
}
