//! Each piece from its settings to the bytes of its STL; the largest as 3MF.

use criterion::{Criterion, criterion_group, criterion_main};
use std::hint::black_box;
use suspect_pieces::{PIECES, Settings, piece, stl, three_mf};

fn pieces(c: &mut Criterion) {
    let settings = Settings::default();
    for piece in PIECES {
        c.bench_function(piece.id, |b| {
            b.iter(|| {
                piece
                    .mesh(black_box(&settings))
                    .map(|mesh| stl(&mesh, piece.id))
            });
        });
    }
    let pins = piece("pins")
        .and_then(|p| p.mesh(&settings).ok())
        .unwrap_or_default();
    c.bench_function("pins as 3MF", |b| {
        b.iter(|| three_mf(black_box(&pins), "pins"));
    });
}

criterion_group!(benches, pieces);
criterion_main!(benches);
