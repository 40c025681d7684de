//! Small closed sets that are written by an identifier: one macro gives each its identifiers, both
//! ways, for logs, files, forms and links.

/// Defines an enumeration whose variants have identifiers: `ALL`, `id`, `from_id`, `Display`,
/// `FromStr`, and serde as text.
macro_rules! identified {
    (
        $(#[$meta:meta])*
        $vis:vis enum $name:ident {
            $( $(#[$doc:meta])* $variant:ident = $id:literal ),+ $(,)?
        }
    ) => {
        $(#[$meta])*
        #[derive(Debug, Clone, Copy, PartialEq, Eq, PartialOrd, Ord, Hash)]
        $vis enum $name {
            $( $(#[$doc])* $variant ),+
        }

        impl $name {
            /// All of them, in order.
            pub const ALL: [$name; [$( $id ),+].len()] = [$( $name::$variant ),+];

            /// Identifier in logs, files, forms and links.
            pub const fn id(self) -> &'static str {
                match self {
                    $( $name::$variant => $id ),+
                }
            }

            /// The one with this identifier.
            pub fn from_id(id: &str) -> Option<Self> {
                match id {
                    $( $id => Some($name::$variant), )+
                    _ => None,
                }
            }
        }

        impl std::fmt::Display for $name {
            fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
                f.write_str(self.id())
            }
        }

        impl std::str::FromStr for $name {
            type Err = $crate::identified::UnknownId;

            fn from_str(id: &str) -> Result<Self, Self::Err> {
                Self::from_id(id)
                    .ok_or_else(|| $crate::identified::UnknownId::new(id, &[$( $id ),+]))
            }
        }

        impl serde::Serialize for $name {
            fn serialize<S: serde::Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
                serializer.serialize_str(self.id())
            }
        }

        impl<'de> serde::Deserialize<'de> for $name {
            fn deserialize<D: serde::Deserializer<'de>>(deserializer: D) -> Result<Self, D::Error> {
                let id = <std::borrow::Cow<'de, str>>::deserialize(deserializer)?;
                id.parse().map_err(serde::de::Error::custom)
            }
        }
    };
}

pub(crate) use identified;

/// An identifier that is none of a closed set.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
#[error("`{given}` is not one of {}", known.join(", "))]
pub struct UnknownId {
    /// What was given, cut to a length that can be shown.
    pub given: String,
    /// What would do.
    pub known: &'static [&'static str],
}

impl UnknownId {
    /// For an identifier that was given, and those that are known.
    pub fn new(given: &str, known: &'static [&'static str]) -> Self {
        Self {
            given: crate::nearest::short(given),
            known,
        }
    }
}

#[cfg(test)]
mod tests {
    identified! {
        /// Two sides.
        pub enum Side {
            /// This one.
            Left = "left",
            /// The other one.
            Right = "right-hand",
        }
    }

    #[test]
    fn an_identifier_leads_both_ways_and_an_unknown_one_says_what_would_do() {
        for side in &Side::ALL {
            assert_eq!(side.id().parse::<Side>().as_ref(), Ok(side));
            let written = serde_json::to_string(side).unwrap();
            assert_eq!(written, format!("\"{side}\""));
            assert_eq!(serde_json::from_str::<Side>(&written).ok(), Some(*side));
        }
        let error = "middle".parse::<Side>().unwrap_err().to_string();
        assert_eq!(error, "`middle` is not one of left, right-hand");
        assert_eq!(Side::from_id("Left"), None);
    }
}
