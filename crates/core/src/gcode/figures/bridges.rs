//! Spans of a stroke over nothing.

/// A span over nothing is a bridge from here on, mm.
const LEAST: f64 = 3.0;

/// Adds up the bridges of a stroke: what hangs between two places where it rests.
#[derive(Debug, Default)]
pub(super) struct Bridges {
    /// It has hung for so long, mm.
    hanging: f64,
    /// Spans that have landed and were bridges, mm.
    landed: f64,
}

impl Bridges {
    /// The line hangs for so many mm more.
    pub fn hang(&mut self, mm: f64) {
        self.hanging += mm;
    }

    /// Whether the line hangs where it is.
    #[inline]
    pub fn hangs(&self) -> bool {
        self.hanging > 0.0
    }

    /// The line rests on something.
    #[cold]
    pub fn land(&mut self) {
        if self.hanging >= LEAST {
            self.landed += self.hanging;
        }
        self.hanging = 0.0;
    }

    /// The stroke ends: millimetres of its bridges.
    pub fn end(&mut self) -> f64 {
        self.land();
        std::mem::take(&mut self.landed)
    }
}

#[cfg(test)]
mod tests {
    use super::Bridges;

    #[test]
    fn a_bridge_is_one_span_and_not_a_sum_of_gaps() {
        let mut bridges = Bridges::default();
        for _ in 0..10 {
            bridges.hang(1.6);
            bridges.land();
        }
        assert_eq!(bridges.end(), 0.0, "infill over infill");
        bridges.hang(2.0);
        bridges.hang(4.0);
        bridges.land();
        bridges.hang(3.5);
        assert_eq!(bridges.end(), 9.5, "an end in the air counts, too");
        assert_eq!(bridges.end(), 0.0);
    }
}
