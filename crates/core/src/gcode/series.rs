//! Figures over the layers, each with its name and unit.

use super::layer::Layer;
use super::line_type::LineType;
use super::reading::Reading;
use crate::identified::identified;

identified! {
    /// A figure that every layer has.
    pub enum Figure {
        /// Time of the layer, s.
        LayerTime = "layer_time_s",
        /// Plastic a second where lines are laid, on the mean, mm³/s.
        Flow = "flow_mm3_s",
        /// The most plastic a second in any line, mm³/s.
        PeakFlow = "peak_flow_mm3_s",
        /// Speed at which lines are laid, on the mean, mm/s.
        Speed = "speed_mm_s",
        /// Speed of the outer loops, mm/s.
        OuterSpeed = "outer_loop_speed_mm_s",
        /// Part fan, %.
        Fan = "fan_percent",
        /// Nozzle as asked, °C.
        Nozzle = "nozzle_c",
        /// Bed as asked, °C.
        Bed = "bed_c",
        /// Height of the layer, mm.
        Height = "layer_mm",
        /// Width of its lines, mm.
        Width = "line_width_mm",
        /// Times filament is drawn back.
        Retractions = "retractions",
        /// Acceleration where lines are laid, mm/s².
        Acceleration = "accel_mm_s2",
        /// Pressure term, in the firmware's unit.
        Pressure = "pressure",
        /// Flow factor, %.
        FlowFactor = "flow_factor_percent",
        /// Speed factor, %.
        SpeedFactor = "speed_factor_percent",
        /// Length of the lines, mm.
        Laid = "laid_mm",
        /// Ways over open space, mm.
        OpenTravel = "open_travel_mm",
        /// Lines over nothing, mm.
        Bridges = "bridge_mm",
    }
}

impl Figure {
    /// Figures that a file sets: they stand still until it sets them anew.
    pub fn is_set(self) -> bool {
        matches!(
            self,
            Self::Fan
                | Self::Nozzle
                | Self::Bed
                | Self::Height
                | Self::Acceleration
                | Self::Pressure
                | Self::FlowFactor
                | Self::SpeedFactor
        )
    }

    /// A smaller change is none that anybody would look for, in its unit.
    pub fn least_jump(self) -> f64 {
        match self {
            Self::LayerTime => 1.0,
            Self::Flow | Self::PeakFlow => 0.5,
            Self::Speed | Self::OuterSpeed => 3.0,
            Self::Width => 0.03,
            Self::Retractions => 5.0,
            Self::Laid | Self::OpenTravel | Self::Bridges => 40.0,
            _ => 0.0,
        }
    }

    /// Its unit as people write it; nothing for a count.
    pub fn unit(self) -> &'static str {
        match self {
            Self::LayerTime => "s",
            Self::Flow | Self::PeakFlow => "mm³/s",
            Self::Speed | Self::OuterSpeed => "mm/s",
            Self::Fan | Self::FlowFactor | Self::SpeedFactor => "%",
            Self::Nozzle | Self::Bed => "°C",
            Self::Height | Self::Width | Self::Laid | Self::OpenTravel | Self::Bridges => "mm",
            Self::Acceleration => "mm/s²",
            Self::Retractions | Self::Pressure => "",
        }
    }

    /// Its value in a layer; none where the layer has none.
    pub fn of(self, reading: &Reading, layer: &Layer) -> Option<f64> {
        let some = |value: f64| (value > 0.0).then_some(value);
        match self {
            Self::LayerTime => Some(layer.time),
            Self::Flow => Some(reading.flow(layer.rate())),
            Self::PeakFlow => some(reading.flow(layer.peak_rate)),
            Self::Speed => some(layer.speed()),
            Self::OuterSpeed => layer.speed_of(LineType::OuterLoop),
            Self::Fan => Some(percent(layer.fan.value)),
            Self::Nozzle => some(f64::from(layer.nozzle.value)),
            Self::Bed => some(f64::from(layer.bed.value)),
            Self::Height => some(layer.height),
            Self::Width => some(layer.width(reading.area())),
            Self::Retractions => Some(f64::from(layer.retractions)),
            Self::Acceleration => reading
                .limits
                .then(|| f64::from(layer.acceleration.value))
                .filter(|a| *a > 0.0),
            Self::Pressure => Some(f64::from(layer.pressure.value)).filter(|p| *p >= 0.0),
            Self::FlowFactor => some(percent(layer.flow_factor.value)),
            Self::SpeedFactor => some(percent(layer.speed_factor.value)),
            Self::Laid => Some(layer.laid),
            Self::OpenTravel => Some(layer.open_travel),
            Self::Bridges => Some(layer.bridges),
        }
    }
}

/// A factor in per cent, without the digits that a byte's rounding brings: 127 of 255 is 49.8 %.
pub(crate) fn percent(factor: f32) -> f64 {
    (f64::from(factor) * 1000.0).round() / 10.0
}
