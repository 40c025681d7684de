//! The lighthouse: how wide it is at a height.

/// Height of the foot.
const FOOT: f64 = 3.0;

/// Height over which the tower narrows, as a share of the whole.
const GALLERY: f64 = 0.62;

/// Radius of the outline at height `z` of a piece `tall` mm high.
pub fn radius(z: f64, tall: f64) -> f64 {
    let share = z / tall;
    let slim = match () {
        () if z <= FOOT => 15.0,
        () if share < GALLERY => 11.0 - 4.0 * (z - FOOT) / (GALLERY * tall - FOOT).max(1.0),
        // The gallery leans out at about 45°.
        () if share < GALLERY + 0.05 => 7.0 + (z - GALLERY * tall).min(2.5),
        () if share < 0.82 => 6.0,
        () => 6.0 - 4.0 * (share - 0.82) / 0.18,
    };
    1.5 * slim
}

/// The hollow in the foot: from, to, and its radius.
pub const HOLLOW: (f64, f64, f64) = (4.0, 10.0, 7.0);

/// The ledge in the hollow: from, to, half its side.
pub const LEDGE: (f64, f64, f64) = (7.0, 8.0, 2.0);

/// Whether the hollow is open at this height.
pub fn is_hollow(z: f64) -> bool {
    z > HOLLOW.0 + 1e-9 && z <= HOLLOW.1 + 1e-9
}

/// The two posts: how high, and their radius.
pub const POSTS: (f64, f64) = (12.0, 2.0);

/// Where the posts stand, from the middle of the piece.
pub const POST_AT: [[f64; 2]; 2] = [[-34.0, 0.0], [34.0, 0.0]];
