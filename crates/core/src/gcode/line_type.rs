//! What a line of plastic is for.

use crate::identified::identified;

identified! {
    /// What a line of plastic is for.
    pub enum LineType {
        /// The loop that is seen from outside.
        OuterLoop = "outer-loop",
        /// Loops within it.
        InnerLoop = "inner-loop",
        /// A loop that leans over what is beneath.
        OverhangLoop = "overhang-loop",
        /// Sparse filling.
        Infill = "infill",
        /// Dense filling that is not seen.
        Skin = "skin",
        /// Dense filling that is seen from above.
        TopSkin = "top-skin",
        /// Lines that span a gap.
        Bridge = "bridge",
        /// Support.
        Support = "support",
        /// The dense side of support that meets the print.
        SupportRoof = "support-roof",
        /// An outline around the print, brim or raft.
        Skirt = "skirt",
        /// A tower or block that wipes or primes the nozzle.
        Tower = "tower",
        /// Filling of a gap between two loops.
        GapFill = "gap-fill",
        /// Not said.
        Other = "other",
    }
}

/// How many types there are.
pub const LINE_TYPES: usize = LineType::ALL.len();

impl LineType {
    /// Position in [`LineType::ALL`].
    pub fn index(self) -> usize {
        self as usize
    }

    /// Whether these lines are part of the print itself.
    pub fn is_print(self) -> bool {
        !matches!(
            self,
            Self::Support | Self::SupportRoof | Self::Skirt | Self::Tower | Self::Other
        )
    }

    /// The type that a file names, by the words in it: there is no standard.
    pub(crate) fn named(words: &[u8]) -> Self {
        let words = String::from_utf8_lossy(words).to_lowercase();
        let has = |part: &str| words.contains(part);
        let wall = has("wall") || has("perimeter") || has("loop") || has("shell");
        match () {
            () if has("support") && (has("interface") || has("roof") || has("dense")) => {
                Self::SupportRoof
            }
            () if has("support") => Self::Support,
            () if has("skirt") || has("brim") || has("raft") || has("adhesion") => Self::Skirt,
            () if has("tower") || has("purge") || has("prime") || has("wipe") => Self::Tower,
            () if has("bridge") => Self::Bridge,
            () if has("overhang") => Self::OverhangLoop,
            () if has("gap") => Self::GapFill,
            () if wall && (has("outer") || has("external")) => Self::OuterLoop,
            () if wall => Self::InnerLoop,
            () if has("iron") => Self::TopSkin,
            () if has("top") && (has("surface") || has("solid") || has("skin")) => Self::TopSkin,
            () if has("solid") || has("skin") || has("bottom") => Self::Skin,
            () if has("fill") => Self::Infill,
            () => Self::Other,
        }
    }
}

#[cfg(test)]
mod tests {
    use super::LineType;

    #[test]
    fn types_are_known_by_their_words() {
        for (words, expected) in [
            ("Outer wall", LineType::OuterLoop),
            ("WALL-OUTER", LineType::OuterLoop),
            ("External perimeter", LineType::OuterLoop),
            ("inner loop", LineType::InnerLoop),
            ("Overhang wall", LineType::OverhangLoop),
            ("Internal infill", LineType::Infill),
            ("FILL", LineType::Infill),
            ("Solid infill", LineType::Skin),
            ("SKIN", LineType::Skin),
            ("Top surface", LineType::TopSkin),
            ("Bridge infill", LineType::Bridge),
            ("SUPPORT-INTERFACE", LineType::SupportRoof),
            ("support material", LineType::Support),
            ("Skirt/Brim", LineType::Skirt),
            ("Prime tower", LineType::Tower),
            ("Gap fill", LineType::GapFill),
            ("Custom", LineType::Other),
        ] {
            assert_eq!(LineType::named(words.as_bytes()), expected, "{words}");
        }
    }
}
