//! The machine map: a schematic that follows the machine's profile, with parts to touch for what
//! they do.

use super::sign::Pen;
use super::spot::{Spot, Tally};
use suspect_core::knowledge::Region;
use suspect_core::profile::{Context, FieldId};

const WIDTH: f64 = 440.0;
const HEIGHT: f64 = 404.0;
/// Room for labels left of the drawing.
const MARGIN: f64 = 56.0;

/// One part as the page knows it.
pub struct PartLink {
    pub region: Region,
    pub name: &'static str,
    pub href: String,
    pub chosen: bool,
    pub tally: Tally,
}

/// The schematic of a machine with its parts.
pub fn svg(context: &Context, parts: &[PartLink]) -> String {
    let mut pen = Pen::default();
    let shape = Shape::of(context);
    shape.draw(&mut pen, context);
    let mut out = format!(
        r#"<svg class="map machine-map" viewBox="-{MARGIN} 0 {} {HEIGHT}" role="group"
            aria-label="Map of the machine">"#,
        WIDTH + MARGIN
    );
    out.push_str(&pen.finish());
    for part in parts {
        let (label, target, touch) = shape.place(part.region);
        let spot = Spot {
            name: part.name,
            href: part.href.clone(),
            chosen: part.chosen,
            tally: part.tally,
            label,
            target,
            shape: touch,
            width: WIDTH,
        };
        spot.draw(&mut out);
    }
    out.push_str("</svg>");
    out
}

/// What of a machine a small picture shows: left, top, width, height.
fn window(field: FieldId, shape: &Shape) -> (f64, f64, f64, f64) {
    let (x, y) = shape.head;
    match field {
        FieldId::Feed | FieldId::FilamentChange => (48.0, 8.0, 370.0, 270.0),
        FieldId::HotEnd => (x - 52.0, y - 10.0, 104.0, 92.0),
        FieldId::Carriage => (x - 110.0, y - 52.0, 220.0, 150.0),
        FieldId::ZScrew => (88.0, 190.0, 60.0, 48.0),
        FieldId::Levelling => (126.0, y + 10.0, 188.0, 130.0),
        _ => (60.0, 66.0, 330.0, 284.0),
    }
}

/// A machine without places to touch.
pub fn picture(context: &Context, title: &str) -> String {
    framed(context, (-MARGIN, 0.0, WIDTH + MARGIN, HEIGHT), title)
}

/// The part of a machine that one field of its profile speaks of.
pub fn detail(context: &Context, field: FieldId) -> String {
    framed(context, window(field, &Shape::of(context)), "")
}

fn framed(context: &Context, (x, y, w, h): (f64, f64, f64, f64), title: &str) -> String {
    let mut pen = Pen::default();
    Shape::of(context).draw(&mut pen, context);
    let said = match title {
        "" => r#"aria-hidden="true""#.to_string(),
        title => format!(r#"role="img" aria-label="{}""#, super::escape(title)),
    };
    format!(
        r#"<svg class="map machine-map" viewBox="{x} {y} {w} {h}" {said}>{}</svg>"#,
        pen.finish()
    )
}

type Point = (f64, f64);

/// Where things stand, which differs by profile.
struct Shape {
    delta: bool,
    direct: bool,
    /// Middle of the head, top of the nozzle block.
    head: Point,
    /// Surface of the bed.
    bed: f64,
}

impl Shape {
    fn of(context: &Context) -> Self {
        let motion = context.id(FieldId::Motion).unwrap_or("");
        let head = match motion {
            "delta" => (220.0, 226.0),
            "crossed-belt" | "cross-gantry" => (220.0, 168.0),
            _ => (220.0, 200.0),
        };
        Self {
            delta: motion == "delta",
            direct: context.id(FieldId::Feed) == Some("direct"),
            head,
            bed: head.1 + 92.0,
        }
    }

    fn draw(&self, pen: &mut Pen, context: &Context) {
        let (x, y) = self.head;
        self.enclosure(pen, context.id(FieldId::Enclosure).unwrap_or(""));
        self.frame(
            pen,
            context.id(FieldId::Motion).unwrap_or(""),
            context.id(FieldId::Carriage).unwrap_or(""),
        );
        self.z_drive(
            pen,
            context.id(FieldId::ZDrive).unwrap_or(""),
            context.id(FieldId::ZScrew).unwrap_or(""),
        );
        self.bed(pen, context.id(FieldId::Levelling).unwrap_or(""));
        // Head: carriage, fins, block, nozzle; two of them where there are two.
        let two = context.id(FieldId::FilamentChange) == Some("two-heads");
        for dx in if two { vec![-17.0, 17.0] } else { vec![0.0] } {
            pen.block("metal", x - 15.0 + dx, y + 6.0, 30.0, 24.0, 2.0);
            pen.path(
                "ink",
                &format!(
                    "M{:.0} {:.0}h30M{:.0} {:.0}h30M{:.0} {:.0}h30",
                    x - 15.0 + dx,
                    y + 12.0,
                    x - 15.0 + dx,
                    y + 18.0,
                    x - 15.0 + dx,
                    y + 24.0
                ),
            );
            if context.id(FieldId::HotEnd) == Some("lined") {
                pen.path("strand thin", &format!("M{:.0} {:.0}v46", x + dx, y + 4.0));
            }
            pen.block("plastic hot", x - 18.0 + dx, y + 34.0, 36.0, 20.0, 2.0);
            pen.path(
                "metal",
                &format!("M{:.0} {:.0}h16l-5 14h-6z", x - 8.0 + dx, y + 54.0),
            );
        }
        match context.id(FieldId::Levelling) {
            Some("probe") => {
                pen.block("metal", x + 34.0, y + 30.0, 9.0, 30.0, 3.0);
                pen.path("bold", &format!("M{:.0} {:.0}v8", x + 38.5, y + 60.0));
            }
            Some("nozzle-touch") => pen.path(
                "bold",
                &format!("M{:.0} {:.0}v10m-5 -5l5 5 5 -5", x + 30.0, y + 72.0),
            ),
            _ => {}
        }
        self.feed(pen, context);
        // Board.
        pen.block("metal", 330.0, 346.0, 66.0, 30.0, 3.0);
        pen.path("ink", "M372 353l-7 11h7l-6 10");
    }

    fn enclosure(&self, pen: &mut Pen, enclosure: &str) {
        match enclosure {
            "closed" | "heated" => {
                pen.block("case", 74.0, 78.0, 292.0, 262.0, 8.0);
                pen.path("faint", "M350 180v50");
                if enclosure == "heated" {
                    pen.path(
                        "warm",
                        "M92 330c5-6-5-10 0-16s-5-10 0-16M104 330c5-6-5-10 0-16s-5-10 0-16",
                    );
                }
            }
            _ => {}
        }
    }

    fn frame(&self, pen: &mut Pen, motion: &str, carriage: &str) {
        let (x, y) = self.head;
        match motion {
            "delta" => {
                pen.path(
                    "bold",
                    "M100 336V88M340 336V88M220 300V88M100 336H340L220 300ZM100 88H340",
                );
                pen.path(
                    "ink",
                    &format!(
                        "M100 150L{:.0} {y:.0}M340 150L{:.0} {y:.0}M220 130L{x:.0} {y:.0}",
                        x - 24.0,
                        x + 24.0
                    ),
                );
                for post in [100.0, 340.0, 220.0] {
                    pen.block(
                        "metal",
                        post - 8.0,
                        if post == 220.0 { 118.0 } else { 138.0 },
                        16.0,
                        22.0,
                        3.0,
                    );
                }
            }
            "crossed-belt" | "cross-gantry" => {
                pen.path("bold", "M96 336V92H344V336Z");
                pen.path("bold", &format!("M96 {y:.0}H344"));
                let belts = if motion == "crossed-belt" {
                    "M104 100L336 112M336 100L104 112"
                } else {
                    "M104 106H336"
                };
                pen.path("belt", belts);
                pen.round("metal", 104.0, 106.0, 6.0);
                pen.round("metal", 336.0, 106.0, 6.0);
            }
            "cantilever" => {
                pen.path("bold", "M104 336V92M80 336H350");
                pen.path("bold", &format!("M104 {y:.0}H320"));
            }
            _ => {
                pen.path("bold", "M104 336V92H336V336M84 336H356");
                pen.path("bold", &format!("M104 {y:.0}H336"));
            }
        }
        if self.delta {
            pen.block("metal", x - 26.0, y - 6.0, 52.0, 10.0, 3.0);
            return;
        }
        match carriage {
            "rails" => pen.block("metal", 116.0, y - 5.0, 200.0, 6.0, 1.0),
            "rods" => pen.path(
                "ink",
                &format!("M110 {:.0}H330M110 {:.0}H330", y - 6.0, y + 6.0),
            ),
            _ => {}
        }
        pen.block("metal", x - 24.0, y - 14.0, 48.0, 22.0, 4.0);
        if carriage == "wheels" {
            for (dx, dy) in [(-16.0, -10.0), (16.0, -10.0), (0.0, 8.0)] {
                pen.round("hollow", x + dx, y + dy, 6.0);
            }
        }
        if motion == "bed-slinger" || motion == "cantilever" {
            pen.path(
                "ink",
                &format!("M{:.0} {:.0}l-14 12m0 0h8m-8 0v-7", 196.0, self.bed + 22.0),
            );
            pen.path(
                "ink",
                &format!("M{:.0} {:.0}l14 -12m0 0h-8m8 0v7", 228.0, self.bed + 36.0),
            );
        }
    }

    fn z_drive(&self, pen: &mut Pen, z_drive: &str, z_screw: &str) {
        let from_bed = matches!(self.head.1 as i32, 168);
        let columns: &[f64] = match z_drive {
            "one-screw" => &[118.0],
            "two-screws" => &[118.0, 322.0],
            "three-screws" => &[126.0, 220.0, 314.0],
            "belt" => &[116.0, 324.0],
            _ => &[],
        };
        if self.delta {
            return;
        }
        let (top, bottom) = if from_bed {
            (self.bed + 12.0, 332.0)
        } else {
            (100.0, 332.0)
        };
        for x in columns {
            if z_drive == "belt" {
                pen.path(
                    "belt",
                    &format!(
                        "M{:.0} {top:.0}V{bottom:.0}M{:.0} {top:.0}V{bottom:.0}",
                        x - 4.0,
                        x + 4.0
                    ),
                );
                continue;
            }
            pen.path(
                "ink",
                &format!(
                    "M{:.0} {top:.0}V{bottom:.0}M{:.0} {top:.0}V{bottom:.0}",
                    x - 3.0,
                    x + 3.0
                ),
            );
            // A coarse thread for a lead screw, a fine one for a threaded rod.
            let pitch = if z_screw == "threaded-rod" { 5.0 } else { 10.0 };
            let turns = ((bottom - top) / pitch) as usize;
            let thread: String = (0..turns)
                .map(|n| format!("M{:.0} {:.0}l6 -4", x - 3.0, top + pitch * (n as f64 + 0.8)))
                .collect();
            pen.path("faint strong", &thread);
        }
    }

    fn bed(&self, pen: &mut Pen, levelling: &str) {
        let y = self.bed;
        pen.block("plastic", 142.0, y - 7.0, 156.0, 5.0, 1.0);
        pen.block("metal", 136.0, y - 2.0, 168.0, 10.0, 2.0);
        if levelling == "manual" {
            for x in [152.0, 288.0] {
                pen.path(
                    "ink",
                    &format!(
                        "M{:.0} {:.0}h10l-10 5h10l-10 5h10M{:.0} {:.0}h20",
                        x - 5.0,
                        y + 9.0,
                        x - 10.0,
                        y + 23.0
                    ),
                );
            }
        }
    }

    fn feed(&self, pen: &mut Pen, context: &Context) {
        let (x, y) = self.head;
        pen.round("hollow", 378.0, 56.0, 34.0);
        pen.round("plastic", 378.0, 56.0, 25.0);
        pen.round("hollow", 378.0, 56.0, 9.0);
        if context.id(FieldId::FilamentChange) == Some("switcher") {
            pen.block("metal", 286.0, 26.0, 40.0, 28.0, 4.0);
            pen.path("strand thin", "M294 54v12M302 54v12M310 54v12M318 54v12");
        }
        if self.direct {
            pen.path(
                "strand thin",
                &format!("M352 52C300 40 {x:.0} 40 {x:.0} {:.0}", y - 46.0),
            );
            pen.block("metal", x - 22.0, y - 46.0, 44.0, 32.0, 5.0);
            pen.round("hollow", x - 8.0, y - 30.0, 9.0);
            pen.round("hollow", x + 11.0, y - 30.0, 6.0);
        } else {
            pen.path("strand thin", "M352 48C260 10 150 8 104 36");
            pen.block("metal", 62.0, 36.0, 46.0, 34.0, 5.0);
            pen.round("hollow", 78.0, 53.0, 9.0);
            pen.round("hollow", 97.0, 53.0, 6.0);
            pen.path(
                "tube",
                &format!("M104 60C170 70 {x:.0} 60 {x:.0} {:.0}", y - 14.0),
            );
        }
    }

    /// Label, target and touching shape of a part.
    fn place(&self, region: Region) -> (Point, Point, &'static str) {
        let (x, y) = self.head;
        let feeder = if self.direct {
            (x - 22.0, y - 30.0)
        } else {
            (85.0, 70.0)
        };
        match region {
            Region::Feeder if self.direct => ((-52.0, 40.0), feeder, "M0 0"),
            Region::Feeder => ((-52.0, 24.0), (64.0, 46.0), "M58 32H112V74H58Z"),
            Region::Spool => (
                (432.0, 124.0),
                (386.0, 92.0),
                "M344 56A34 34 0 1 1 412 56A34 34 0 1 1 344 56Z",
            ),
            Region::HotEnd => ((432.0, 232.0), (x + 18.0, y + 46.0), "M0 0"),
            Region::Bed => ((-52.0, 306.0), (142.0, self.bed + 3.0), "M0 0"),
            Region::Motion => (
                (-52.0, 178.0),
                if self.delta {
                    (100.0, 210.0)
                } else {
                    (128.0, y)
                },
                "M0 0",
            ),
            Region::Chamber => ((-52.0, 398.0), (88.0, 326.0), "M0 0"),
            _ => ((432.0, 398.0), (362.0, 362.0), "M328 346H398V380H328Z"),
        }
    }
}
