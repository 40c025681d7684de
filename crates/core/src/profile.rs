//! The machine's profile and the material: the context in which a case stands.

use crate::identified::identified;
use crate::nearest::{did_you_mean, nearest, short};

/// One value a profile field may have.
#[derive(Debug)]
pub struct Value {
    /// Identifier in case files and knowledge.
    pub id: &'static str,
    /// The words a person reads.
    pub plain: &'static str,
}

/// One field of the profile with its values.
#[derive(Debug)]
pub struct Field {
    /// Identifier in case files and knowledge.
    pub id: &'static str,
    /// The words a person reads.
    pub plain: &'static str,
    /// Allowed values.
    pub values: &'static [Value],
}

macro_rules! fields {
    ($($field:ident $id:literal $plain:literal {
        $($name:ident $value:literal $words:literal),+ $(,)?
    })+) => {
        identified! {
            /// A field of the context by name.
            pub enum FieldId {
                $( #[doc = $plain] $field = $id ),+
            }
        }

        /// Every field of the context: the machine's profile, then the material family.
        pub static FIELDS: &[Field] = &[$(Field {
            id: $id,
            plain: $plain,
            values: &[$(Value { id: $value, plain: $words }),+],
        }),+];

        $(
            identified! {
                #[doc = concat!("Values of the field \"", $plain, "\".")]
                pub enum $field {
                    $( #[doc = $words] $name = $value ),+
                }
            }

            impl $field {
                /// The value in a context, if known.
                pub fn of(context: &Context) -> Option<Self> {
                    let place = context.0[FieldId::$field as usize]?;
                    Self::ALL.get(usize::from(place)).copied()
                }
            }
        )+
    };
}

fields! {
    Feed "feed" "Feed" {
        Bowden "bowden" "through a tube (Bowden)",
        Direct "direct" "feeder on the head (direct)",
    }
    HotEnd "hotend" "Hot end" {
        Lined "lined" "liner down to the nozzle (lined)",
        AllMetal "all-metal" "metal throughout (all-metal)",
    }
    Motion "motion" "Motion" {
        BedSlinger "bed-slinger" "bed moves front to back (bed-slinger)",
        CrossedBelt "crossed-belt" "two crossed belts move the head",
        CrossGantry "cross-gantry" "head on a cross gantry",
        Delta "delta" "three arms (delta)",
        Cantilever "cantilever" "arm held on one side (cantilever)",
    }
    ZDrive "z_drive" "Z drive" {
        OneScrew "one-screw" "one screw",
        TwoScrews "two-screws" "two screws",
        ThreeScrews "three-screws" "three screws",
        Belt "belt" "belt",
    }
    ZScrew "z_screw" "Z screw" {
        LeadScrew "lead-screw" "lead screw",
        ThreadedRod "threaded-rod" "threaded rod",
    }
    FilamentChange "filament_change" "Filament change" {
        None "none" "none",
        Switcher "switcher" "switcher for several spools",
        TwoHeads "two-heads" "two heads",
    }
    Carriage "carriage" "Carriage runs on" {
        Wheels "wheels" "wheels",
        Rails "rails" "rails",
        Rods "rods" "rods",
    }
    Levelling "levelling" "Levelling" {
        Manual "manual" "by hand (screws and paper)",
        Probe "probe" "probe",
        NozzleTouch "nozzle-touch" "nozzle touches the bed",
    }
    Enclosure "enclosure" "Enclosure" {
        Open "open" "open",
        Closed "closed" "closed",
        Heated "heated" "closed and heated",
    }
    BoardAge "board_age" "Runaway protection" {
        Protected "protected" "firmware cuts the heat when the reading makes no sense",
        Unprotected "unprotected" "firmware has no thermal-runaway protection",
        Unknown "unknown" "not known",
    }
    Material "material" "Material" {
        Pla "pla" "PLA",
        Petg "petg" "PETG",
        Abs "abs" "ABS",
        Asa "asa" "ASA",
        Tpu "tpu" "TPU (soft)",
        Pa "pa" "PA (nylon type)",
        Pc "pc" "PC",
        Other "other" "another family",
    }
}

/// Position of `material` in [`FIELDS`]; the fields before it are the machine's profile.
pub const MATERIAL: usize = FieldId::Material as usize;

/// What is known of machine and material. A field not known is `None` and counts as "no evidence".
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Context([Option<u8>; FieldId::ALL.len()]);

impl Context {
    /// Sets a field by its identifiers.
    ///
    /// # Errors
    /// Says which field or value is unknown, what is allowed and which known one is nearest.
    pub fn set(&mut self, field: &str, value: &str) -> Result<(), ContextProblem> {
        let (field, value) = find(field, value)?;
        self.0[field] = Some(value);
        Ok(())
    }

    /// The value of a field, if known.
    pub fn get(&self, field: FieldId) -> Option<&'static Value> {
        let index = field as usize;
        self.0[index].map(|v| &FIELDS[index].values[v as usize])
    }

    /// The identifier of a field's value, if known.
    pub fn id(&self, field: FieldId) -> Option<&'static str> {
        self.get(field).map(|v| v.id)
    }

    /// The identifier of a value by its field's identifier, if both are known.
    pub fn named(&self, field: &str) -> Option<&'static str> {
        FieldId::from_id(field).and_then(|field| self.id(field))
    }

    /// Known fields with their values, in the order of [`FIELDS`].
    pub fn known(&self) -> impl Iterator<Item = (&'static Field, &'static Value)> + '_ {
        FIELDS
            .iter()
            .enumerate()
            .filter_map(|(i, f)| self.0[i].map(|v| (f, &f.values[v as usize])))
    }
}

/// A condition on the context: a field has one of some values, written
/// `levelling=probe|nozzle-touch`.
#[derive(Debug, Clone, PartialEq, Eq)]
pub struct Condition {
    field: usize,
    values: Vec<u8>,
}

impl Condition {
    /// Reads `field=value|value`.
    ///
    /// # Errors
    /// Names the part that is not known.
    pub fn parse(text: &str) -> Result<Self, String> {
        let (field, values) = text
            .split_once('=')
            .ok_or_else(|| format!("`{text}` is not of the form field=value"))?;
        let mut found = Vec::new();
        let mut index = 0;
        for value in values.split('|') {
            let (i, v) = find(field.trim(), value.trim()).map_err(|e| e.to_string())?;
            index = i;
            found.push(v);
        }
        Ok(Self {
            field: index,
            values: found,
        })
    }

    /// `Some(true)` when it holds, `Some(false)` when the context contradicts it, `None` when the
    /// field is not known.
    pub fn holds(&self, context: &Context) -> Option<bool> {
        context.0[self.field].map(|v| self.values.contains(&v))
    }

    /// Place of its field in [`FIELDS`].
    pub fn field(&self) -> usize {
        self.field
    }

    /// Whether a value of its field, by place, satisfies it.
    pub fn allows(&self, value: usize) -> bool {
        self.values.iter().any(|v| *v as usize == value)
    }
}

impl std::fmt::Display for Condition {
    /// As it is written in the knowledge.
    fn fmt(&self, f: &mut std::fmt::Formatter<'_>) -> std::fmt::Result {
        let field = &FIELDS[self.field];
        let values: Vec<_> = self
            .values
            .iter()
            .map(|v| field.values[*v as usize].id)
            .collect();
        write!(f, "{}={}", field.id, values.join("|"))
    }
}

/// What is wrong with a field of the context, or with its value.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum ContextProblem {
    /// There is no such field.
    #[error("`{given}` is not a field of the \
        machine{}", near.map(did_you_mean).unwrap_or_default())]
    NoField {
        /// What was given, cut short.
        given: String,
        /// The most alike.
        near: Option<&'static str>,
    },
    /// The field has no such value.
    #[error(
        "`{given}` is not known for `{field}`: allowed are {}{}",
        allowed.join(", "),
        near.map(did_you_mean).unwrap_or_default()
    )]
    NoValue {
        /// The field.
        field: FieldId,
        /// What was given, cut short.
        given: String,
        /// What would do.
        allowed: Vec<&'static str>,
        /// The most alike.
        near: Option<&'static str>,
    },
    /// The material was given as a field of the machine.
    #[error("the material belongs to a case, not to the machine")]
    MaterialIsOfTheCase,
}

fn find(field: &str, value: &str) -> Result<(usize, u8), ContextProblem> {
    let Some(id) = FieldId::from_id(field) else {
        return Err(ContextProblem::NoField {
            given: short(field),
            near: nearest(field, FIELDS.iter().map(|f| f.id)),
        });
    };
    let values = FIELDS[id as usize].values;
    match values.iter().position(|v| v.id == value) {
        Some(place) => Ok((id as usize, place as u8)),
        None => Err(ContextProblem::NoValue {
            field: id,
            given: short(value),
            allowed: values.iter().map(|v| v.id).collect(),
            near: nearest(value, values.iter().map(|v| v.id)),
        }),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_unknown_value_names_what_is_allowed_and_the_nearest() {
        let err = Context::default().set("feed", "bowdn").unwrap_err();
        assert_eq!(
            err.to_string(),
            "`bowdn` is not known for `feed`: allowed are bowden, direct; did you mean `bowden`?"
        );
    }

    #[test]
    fn a_condition_on_an_unknown_field_neither_holds_nor_fails() {
        let condition = Condition::parse("levelling=probe|nozzle-touch").unwrap();
        let mut context = Context::default();
        assert_eq!(condition.holds(&context), None);
        context.set("levelling", "probe").unwrap();
        assert_eq!(condition.holds(&context), Some(true));
        context.set("levelling", "manual").unwrap();
        assert_eq!(condition.holds(&context), Some(false));
    }
}
