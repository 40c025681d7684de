//! What a piece is made for.

/// Nozzle, line, layers and the gaps that are tried, mm.
#[derive(Debug, Clone, PartialEq)]
pub struct Settings {
    /// Bore of the nozzle.
    pub nozzle: f64,
    /// Width of a line.
    pub line: f64,
    /// Layer height.
    pub layer: f64,
    /// Height of the first layer.
    pub first: f64,
    /// Gaps of the piece with the pins, from small to large.
    pub clearances: Vec<f64>,
}

/// Gaps that the pins try where none are asked for, mm.
const CLEARANCES: [f64; 7] = [0.15, 0.20, 0.25, 0.30, 0.40, 0.50, 0.60];

/// Smallest gap that a filament printer leaves open at all, mm.
const LEAST_GAP: f64 = 0.05;

impl Default for Settings {
    fn default() -> Settings {
        Settings::of_nozzle(0.4)
    }
}

/// Why no piece can be made with these settings.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum SettingsProblem {
    /// A number out of its range.
    #[error("{what} is {value} mm, it must be from {least} to {most} mm")]
    Range {
        /// Which.
        what: &'static str,
        /// What was given.
        value: f64,
        /// From.
        least: f64,
        /// To.
        most: f64,
    },
    /// Not so many gaps.
    #[error("{0} gaps are given, the pins take 1 to 7")]
    Gaps(usize),
    /// A gap that does not stand in its order.
    #[error("the gaps must grow: {after} mm stands after {before} mm")]
    Order {
        /// The one before.
        before: f64,
        /// The one after.
        after: f64,
    },
}

fn within(what: &'static str, value: f64, least: f64, most: f64) -> Result<(), SettingsProblem> {
    let rounded = |v: f64| (v * 1000.0).round() / 1000.0;
    let (least, most) = (rounded(least), rounded(most));
    if value.is_finite() && value >= least - 1e-9 && value <= most + 1e-9 {
        return Ok(());
    }
    Err(SettingsProblem::Range {
        what,
        value,
        least,
        most,
    })
}

impl Settings {
    /// Usual settings of a nozzle, mm: lines as wide as the bore, layers of half of it.
    pub fn of_nozzle(nozzle: f64) -> Settings {
        let layer = (nozzle * 50.0).round() / 100.0;
        Settings {
            nozzle,
            line: nozzle,
            layer,
            first: layer,
            clearances: CLEARANCES.to_vec(),
        }
    }

    /// Refuses what no nozzle can print.
    ///
    /// # Errors
    ///
    /// [`SettingsProblem`] names the value and what would do.
    pub fn check(&self) -> Result<(), SettingsProblem> {
        within("the nozzle", self.nozzle, 0.15, 1.2)?;
        within(
            "the line",
            self.line,
            (self.nozzle * 0.75).max(0.2),
            self.nozzle * 2.0,
        )?;
        let thickest = self.nozzle * 0.8;
        within("the layer", self.layer, 0.04, thickest)?;
        within("the first layer", self.first, 0.05, thickest.max(0.3))?;
        if !(1..=7).contains(&self.clearances.len()) {
            return Err(SettingsProblem::Gaps(self.clearances.len()));
        }
        for gap in &self.clearances {
            within("a gap", *gap, LEAST_GAP, 1.5)?;
        }
        for pair in self.clearances.windows(2) {
            if pair[1] <= pair[0] {
                return Err(SettingsProblem::Order {
                    before: pair[0],
                    after: pair[1],
                });
            }
        }
        Ok(())
    }

    /// The height of whole layers nearest to a height, mm; one layer at least above the plate.
    pub fn z(&self, mm: f64) -> f64 {
        if mm <= 0.0 {
            return 0.0;
        }
        let layers = ((mm - self.first) / self.layer).round().max(0.0);
        self.after(layers as u32 + 1)
    }

    /// The height after so many layers, mm.
    pub fn after(&self, layers: u32) -> f64 {
        match layers {
            0 => 0.0,
            n => self.first + f64::from(n - 1) * self.layer,
        }
    }

    /// A height with so many layers more, mm.
    pub fn above(&self, z: f64, layers: u32) -> f64 {
        if z <= 0.0 {
            self.after(layers)
        } else {
            z + f64::from(layers) * self.layer
        }
    }

    /// Width of a sign's stroke, mm: two lines, never too thin to be seen.
    pub fn pen(&self) -> f64 {
        (2.0 * self.line).max(0.8)
    }
}
