//! What each bench stands for: `next` is the next piece with 60 differences and all pairs after
//! five pieces, `next_with_needs` the same where every third needs another, `look` one look more.

use criterion::{Criterion, criterion_group, criterion_main};
use std::hint::black_box;
use suspect_core::trials::{Confidence, Course, Difference, Goal, Grade, List, Look, Planned};

/// Sixty differences in four groups.
fn planned(needs: bool) -> Planned {
    let difference = |i: usize| Difference {
        name: format!("d{i}"),
        group: Some(format!("g{}", i % 4)),
        needs: (needs && usize::is_multiple_of(i, 3) && i < 57)
            .then(|| format!("d{}", i + 2))
            .into_iter()
            .collect(),
        ..Difference::default()
    };
    let list = List {
        differences: (0..60).map(difference).collect(),
        ..List::default()
    };
    list.plan().expect("the list makes a plan")
}

/// Pieces as the plan proposes them, each still bad but the second.
fn after_five(planned: &Planned) -> Course<'_> {
    let mut course = Course::new(&planned.plan);
    for k in 0..5 {
        let look = Look {
            piece: format!("T{k}-A"),
            old: course.best(Goal::Repair).old,
            grade: Grade::Number(if k == 1 { 5 } else { 1 }),
            confidence: Confidence::Sure,
        };
        course.add(&look);
    }
    course
}

fn trials(c: &mut Criterion) {
    let (free, bound) = (planned(false), planned(true));
    let (course, needing) = (after_five(&free), after_five(&bound));
    c.bench_function("next", |b| b.iter(|| black_box(&course).best(Goal::Repair)));
    c.bench_function("next_with_needs", |b| {
        b.iter(|| black_box(&needing).best(Goal::Repair));
    });
    c.bench_function("look", |b| {
        b.iter(|| {
            let said = free.plan.tables().grades()[4];
            black_box(&course.belief).after(free.plan.all(), said)
        });
    });
}

criterion_group!(benches, trials);
criterion_main!(benches);
