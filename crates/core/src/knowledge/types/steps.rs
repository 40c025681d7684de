//! What a step of a procedure does to the machine, and in which state it finds it.

use crate::identified::identified;

identified! {
    /// A word for how the machine stands while a step is done.
    pub enum Stands {
        /// The heater block is at print temperature or near it.
        Hot = "hot",
        /// The heater block is below 50 °C.
        Cold = "cold",
        /// The bed is hot enough to burn.
        HotBed = "hot-bed",
        /// Plugged in and switched on.
        Powered = "powered",
        /// Switched off; the plug may be in.
        Off = "off",
        /// The plug is out.
        Unplugged = "unplugged",
        /// Filament in the hot end.
        Loaded = "loaded",
        /// Filament out.
        Unloaded = "unloaded",
        /// Covers, duct or board's lid off.
        Open = "open",
        /// All covers and the fin duct in place.
        Closed = "closed",
    }
}

identified! {
    /// What is done in a step, as far as safety and order hang on it.
    pub enum Act {
        /// The block is heated; hands stay away.
        Heat = "heat",
        /// The bed is heated.
        HeatBed = "heat-bed",
        /// Heaters to 0, fin fan on until the block is below 50 °C.
        Cool = "cool",
        /// Left to cool without its fan, under a stop only.
        CoolUnplugged = "cool-unplugged",
        /// Switched off.
        Off = "switch-off",
        /// The plug pulled.
        Unplug = "unplug",
        /// Plugged in and switched on.
        Power = "plug-in",
        /// A cover, duct or lid taken off.
        Open = "open",
        /// All covers and ducts put back.
        Close = "close",
        /// Filament taken out.
        Unload = "unload",
        /// Filament put in.
        Load = "load",
        /// Wires, plugs or anything bare of the electrics touched.
        Wires = "wires",
        /// The circuit board's neighbourhood worked in.
        Board = "board",
        /// A metal tool put to nozzle or block.
        BlockTool = "block-tool",
        /// Hands in what can move: axes, gears, fans.
        ByHand = "by-hand",
        /// The machine moves or feeds under power.
        Move = "move",
        /// Something is cut with a blade.
        Cut = "cut",
        /// A thread in soft metal or plastic is tightened.
        Thread = "thread",
        /// A solvent is used.
        Solvent = "solvent",
        /// Filament is dried by heat.
        Dry = "dry",
        /// The nozzle is taken out or turned.
        Nozzle = "nozzle",
        /// The tube is taken out or loosened.
        TubeOut = "tube-out",
        /// The tube is pushed home against the nozzle.
        TubeHome = "tube-home",
        /// Something else that the first-layer height hangs on is moved: bed, screw, switch, probe.
        ShiftHeight = "shift-height",
        /// The first-layer height is set anew.
        SetHeight = "set-height",
        /// A part the repair needs is printed.
        PrintPart = "print-part",
        /// Something is printed on the machine.
        Print = "print",
        /// A value of the firmware is changed.
        Firmware = "firmware",
    }
}

/// Whether the plug is in and the switch on.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq, PartialOrd, Ord)]
pub enum Power {
    /// Plugged in, switched on.
    #[default]
    On,
    /// Switched off.
    Off,
    /// The plug is out.
    Unplugged,
}

/// How the machine stands, as far as a procedure has said.
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Standing {
    /// The block is hot, or cold.
    pub hot: Option<bool>,
    /// The bed is hot.
    pub hot_bed: bool,
    /// Plug and switch.
    pub power: Power,
    /// The filament is out.
    pub unloaded: Option<bool>,
    /// Covers or ducts are off.
    pub open: bool,
}

impl Standing {
    /// Whether a word holds.
    pub fn is(self, word: Stands) -> bool {
        match word {
            Stands::Hot => self.hot == Some(true),
            Stands::Cold => self.hot == Some(false),
            Stands::HotBed => self.hot_bed,
            Stands::Powered => self.power == Power::On,
            Stands::Off => self.power != Power::On,
            Stands::Unplugged => self.power == Power::Unplugged,
            Stands::Loaded => self.unloaded == Some(false),
            Stands::Unloaded => self.unloaded == Some(true),
            Stands::Open => self.open,
            Stands::Closed => !self.open,
        }
    }

    /// Makes a word hold, as getting ready does.
    pub fn put(&mut self, word: Stands) {
        match word {
            Stands::Hot => self.hot = Some(true),
            Stands::Cold => self.hot = Some(false),
            Stands::HotBed => self.hot_bed = true,
            Stands::Powered => self.power = Power::On,
            Stands::Off => self.power = self.power.max(Power::Off),
            Stands::Unplugged => {
                self.power = Power::Unplugged;
                self.hot.get_or_insert(false);
            }
            Stands::Loaded => self.unloaded = Some(false),
            Stands::Unloaded => self.unloaded = Some(true),
            Stands::Open => self.open = true,
            Stands::Closed => self.open = false,
        }
    }

    /// What is known of it and worth saying, in words of [`Stands`].
    pub fn words(self) -> Vec<Stands> {
        let worth = [
            Stands::Hot,
            Stands::Cold,
            Stands::HotBed,
            Stands::Unplugged,
            Stands::Loaded,
            Stands::Unloaded,
            Stands::Open,
        ];
        let off = (self.power == Power::Off).then_some(Stands::Off);
        let known = worth.into_iter().filter(|w| self.is(*w));
        known.chain(off).collect()
    }
}
