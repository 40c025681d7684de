//! Units people write behind a number.

/// A unit, and how a value in it becomes one in the number's own: `(value − offset) × factor`.
pub struct Unit {
    /// The unit of the number it is converted to.
    of: &'static str,
    /// How people write it, in small letters.
    written: &'static [&'static str],
    /// Taken off first.
    offset: f64,
    /// What it is multiplied by then.
    factor: f64,
}

impl Unit {
    /// A value written in it, in the number's own unit.
    pub fn convert(&self, value: f64) -> f64 {
        (value - self.offset) * self.factor
    }

    /// Whether it is the number's own unit.
    pub fn is_own(&self) -> bool {
        self.factor == 1.0 && self.offset == 0.0
    }
}

const fn unit(
    of: &'static str,
    written: &'static [&'static str],
    offset: f64,
    factor: f64,
) -> Unit {
    Unit {
        of,
        written,
        offset,
        factor,
    }
}

/// Units by the unit they are converted to. The first of each is the number's own.
const UNITS: &[Unit] = &[
    unit("mm", &["mm", "millimetre", "millimetres"], 0.0, 1.0),
    unit("mm", &["in", "inch", "inches", "\"", "″", "”"], 0.0, 25.4),
    unit("mm", &["thou", "mil"], 0.0, 0.0254),
    unit("mm", &["µm", "μm", "um", "micron", "microns"], 0.0, 0.001),
    unit("mm", &["cm"], 0.0, 10.0),
    unit("mm", &["m"], 0.0, 1000.0),
    unit("°C", &["°c", "c", "°", "deg", "degrees"], 0.0, 1.0),
    unit("°C", &["°f", "f"], 32.0, 1.0 / 1.8),
    unit("%", &["%", "percent", "per cent"], 0.0, 1.0),
    unit("", &["×", "x"], 0.0, 1.0),
    unit("", &["%", "percent", "per cent"], 0.0, 0.01),
    unit("mm/s", &["mm/s", "mm/sec"], 0.0, 1.0),
    unit("mm/s", &["mm/min"], 0.0, 1.0 / 60.0),
    unit("mm/s", &["in/s", "ips"], 0.0, 25.4),
    unit("mm/s²", &["mm/s²", "mm/s2", "mm/s^2"], 0.0, 1.0),
    unit("mm/s²", &["m/s²", "m/s2", "m/s^2"], 0.0, 1000.0),
    unit("W", &["w", "watt", "watts"], 0.0, 1.0),
    unit("W", &["kw"], 0.0, 1000.0),
    unit("min", &["min", "mins", "minutes"], 0.0, 1.0),
    unit("min", &["h", "hours"], 0.0, 60.0),
    unit("h", &["h", "hours"], 0.0, 1.0),
    unit("h", &["min", "mins", "minutes"], 0.0, 1.0 / 60.0),
    unit("s", &["s", "sec", "seconds"], 0.0, 1.0),
    unit("s", &["min", "mins", "minutes"], 0.0, 60.0),
    unit("Hz", &["hz"], 0.0, 1.0),
    unit("g", &["g", "grams"], 0.0, 1.0),
    unit("g", &["kg"], 0.0, 1000.0),
    unit("mm³/s", &["mm³/s", "mm3/s", "mm^3/s"], 0.0, 1.0),
];

/// The unit a person wrote behind a number of another, where it can be converted.
pub fn written(of: &str, text: &str) -> Option<&'static Unit> {
    let text = text.to_lowercase();
    let mut known = UNITS.iter().filter(|u| u.of == of);
    known.find(|u| u.written.contains(&text.as_str()))
}
