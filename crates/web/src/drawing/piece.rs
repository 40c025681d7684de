//! A test piece in two views, with letters where its features are.

use std::fmt::Write;
use suspect_pieces::{Piece, Settings, Shape, Side, Spot, Views};

/// Room round a view and between the two, mm.
const ROOM: f64 = 6.0;

struct View<'a> {
    shapes: &'a [Shape],
    class: &'static str,
    at: [f64; 2],
    size: [f64; 2],
}

impl View<'_> {
    /// A point of the piece on the sheet: y grows upward on the piece, downward on the sheet.
    fn on_sheet(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        [self.at[0] + x, self.at[1] + self.size[1] - y]
    }

    fn draw(&self, s: &mut String) {
        for shape in self.shapes {
            let mut path = String::new();
            for ring in &shape.rings {
                for (n, point) in ring.iter().enumerate() {
                    let [x, y] = self.on_sheet(*point);
                    let _ = write!(path, "{}{x:.2} {y:.2}", if n == 0 { "M" } else { "L" });
                }
                path.push('Z');
            }
            let cut = if shape.cut { " cut" } else { "" };
            let _ = write!(s, r#"<path class="{}{cut}" d="{path}"/>"#, self.class);
        }
    }
}

fn most(shapes: &[Shape], axis: usize) -> f64 {
    let points = shapes.iter().flat_map(|s| &s.rings).flatten();
    points.map(|p| p[axis]).fold(0.0, f64::max)
}

fn views(all: &Views) -> (View<'_>, View<'_>, [f64; 2]) {
    let wide = most(&all.top, 0).max(most(&all.front, 0));
    let (deep, tall) = (most(&all.top, 1), most(&all.front, 1));
    let front = View {
        shapes: &all.front,
        class: "front",
        at: [ROOM, ROOM],
        size: [wide, tall],
    };
    let top = View {
        shapes: &all.top,
        class: "top",
        at: [ROOM, 2.0 * ROOM + tall],
        size: [wide, deep],
    };
    (front, top, [wide + 2.0 * ROOM, tall + deep + 3.0 * ROOM])
}

/// The view that says most, for a card: from the front where something is looked at from there.
pub fn small(piece: &Piece, settings: &Settings) -> String {
    let all = Views::of(&(piece.build)(settings));
    let (front, mut top, _) = views(&all);
    let from_front = (piece.spots)(settings)
        .iter()
        .any(|s| s.side == Side::Front);
    top.at = front.at;
    let view = if from_front { front } else { top };
    let [wide, tall] = view.size;
    let mut s = format!(
        r#"<svg class="piece-small" viewBox="0 0 {:.1} {:.1}" aria-hidden="true">"#,
        wide + 2.0 * ROOM,
        tall + 2.0 * ROOM
    );
    view.draw(&mut s);
    s + "</svg>"
}

/// Both views with a letter at each feature, in the order of the sheet.
pub fn large(piece: &Piece, settings: &Settings) -> String {
    let all = Views::of(&(piece.build)(settings));
    let (front, top, [wide, tall]) = views(&all);
    let mut s = format!(
        r#"<svg class="piece-large" viewBox="0 0 {wide:.1} {tall:.1}" role="img"
            aria-label="{} from the front and from above">"#,
        piece.name
    );
    front.draw(&mut s);
    top.draw(&mut s);
    let sheet = suspect_pieces::sheets::sheet(piece.id);
    for spot in (piece.spots)(settings) {
        let n = sheet.and_then(|sheet| sheet.features.iter().position(|f| f.id == spot.feature));
        if let Some(n) = n {
            letter(&mut s, &front, &top, &spot, char::from(b'A' + n as u8));
        }
    }
    let _ = write!(
        s,
        r#"<text class="view-name" x="{0}" y="{1:.1}">from the front</text><text class="view-name"
            x="{0}" y="{2:.1}">from above</text></svg>"#,
        ROOM,
        front.at[1] + front.size[1] + 4.0,
        top.at[1] + top.size[1] + 4.0
    );
    s
}

fn letter(s: &mut String, front: &View, top: &View, spot: &Spot, letter: char) {
    let middle = |axis: usize| f64::midpoint(spot.from[axis], spot.to[axis]);
    let [x, y] = match spot.side {
        Side::Front => front.on_sheet([middle(0), middle(2)]),
        Side::Top => top.on_sheet([middle(0), middle(1)]),
        // What is beneath is marked at the lower edge of the view from above.
        Side::Under => top.on_sheet([spot.to[0] - 3.0, spot.from[1]]),
    };
    let _ = write!(
        s,
        r#"<circle class="spot" cx="{x:.1}" cy="{y:.1}" r="2.4"/><text class="spot-letter"
            x="{x:.1}" y="{:.1}" text-anchor="middle">{letter}</text>"#,
        y + 1.2
    );
}
