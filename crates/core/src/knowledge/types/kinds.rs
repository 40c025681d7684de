//! Closed sets: sections, regions, families, levels.

use crate::identified::identified;

/// Which part of the vocabulary a finding belongs to.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Section {
    /// Seen on the print.
    Print,
    /// Seen or heard on the machine.
    Machine,
    /// Pattern and history.
    History,
    /// Drawn from numbers by the program, never asked.
    Number,
    /// The outcome of a check.
    Check,
}

identified! {
    /// Where a finding is found: places of the print in the order a print is looked over, then
    /// parts of the machine.
    pub enum Region {
        /// First layer and foot.
        FirstLayer = "first layer",
        /// Walls.
        Wall = "wall",
        /// Seam.
        Seam = "seam",
        /// Tops and slopes.
        Top = "top",
        /// Overhangs and supports.
        Overhang = "overhang",
        /// Between separate parts.
        BetweenIslands = "between islands",
        /// Tips and fine detail.
        Tip = "tip",
        /// Inside, cut open.
        Inside = "inside",
        /// The whole piece.
        Whole = "whole",
        /// Feeder.
        Feeder = "feeder",
        /// Spool and the path from it.
        Spool = "spool",
        /// Hot end.
        HotEnd = "hot end",
        /// Bed and plate.
        Bed = "bed",
        /// Motion.
        Motion = "motion",
        /// Chamber.
        Chamber = "chamber",
        /// Electrics: danger signs.
        Electrics = "electrics",
    }
}

impl Region {
    /// Places of the print.
    pub fn of_print() -> impl Iterator<Item = Region> {
        Region::ALL.iter().copied().filter(|r| r.is_of_print())
    }

    /// Parts of the machine.
    pub fn of_machine() -> impl Iterator<Item = Region> {
        Region::ALL.iter().copied().filter(|r| !r.is_of_print())
    }

    fn is_of_print(self) -> bool {
        self <= Region::Whole
    }
}

identified! {
    /// Part of the machine or of the job that a cause belongs to, in the order of lists.
    pub enum Family {
        /// Filament path.
        Path = "path",
        /// Feeder.
        Feeder = "feeder",
        /// Hot end.
        HotEnd = "hotend",
        /// Heat and air.
        Heat = "heat",
        /// Amounts asked for by the slicer.
        Flow = "flow",
        /// Motion settings.
        MotionSettings = "motion-set",
        /// Bed and first layer.
        Bed = "bed",
        /// Mechanics.
        Mechanics = "mechanics",
        /// Electrics.
        Electric = "electric",
        /// Material.
        Material = "material",
        /// Model.
        Model = "model",
        /// No fault: how the process looks.
        Normal = "normal",
    }
}

identified! {
    /// How grave a caution is.
    pub enum CautionLevel {
        /// Something may break or hurt a little.
        Caution = "caution",
        /// Somebody may be hurt badly.
        Warning = "warning",
    }
}

identified! {
    /// Easy, involved or a way round the fault.
    pub enum FixKind {
        /// Done in minutes with little to go wrong.
        Easy = "easy",
        /// Takes dismantling, parts or care.
        Involved = "involved",
        /// The fault stays, the print succeeds.
        WorkAround = "work-around",
    }
}
