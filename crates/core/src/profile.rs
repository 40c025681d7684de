//! The machine's profile and the material: the context in which a case stands.

use crate::nearest::{hint, short};

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
    ($($id:literal $plain:literal { $($value:literal $words:literal),+ $(,)? })+) => {
        /// Every field of the context: the machine's profile, then the material family.
        pub const FIELDS: &[Field] = &[$(Field { id: $id, plain: $plain, values: &[$(Value { id: $value, plain: $words }),+] }),+];
    };
}

fields! {
    "feed" "Feed" { "bowden" "through a tube (Bowden)", "direct" "feeder on the head (direct)" }
    "hotend" "Hot end" { "lined" "liner down to the nozzle (lined)", "all-metal" "metal throughout (all-metal)" }
    "motion" "Motion" {
        "bed-slinger" "bed moves front to back (bed-slinger)", "crossed-belt" "two crossed belts move the head",
        "cross-gantry" "head on a cross gantry", "delta" "three arms (delta)", "cantilever" "arm held on one side (cantilever)",
    }
    "z_drive" "Z drive" { "one-screw" "one screw", "two-screws" "two screws", "three-screws" "three screws", "belt" "belt" }
    "z_screw" "Z screw" { "lead-screw" "lead screw", "threaded-rod" "threaded rod" }
    "filament_change" "Filament change" { "none" "none", "switcher" "switcher for several spools", "two-heads" "two heads" }
    "carriage" "Carriage runs on" { "wheels" "wheels", "rails" "rails", "rods" "rods" }
    "levelling" "Levelling" { "manual" "by hand (screws and paper)", "probe" "probe", "nozzle-touch" "nozzle touches the bed" }
    "enclosure" "Enclosure" { "open" "open", "closed" "closed", "heated" "closed and heated" }
    "board_age" "Runaway protection" {
        "protected" "firmware cuts the heat when the reading makes no sense", "unprotected" "firmware has no thermal-runaway protection",
        "unknown" "not known",
    }
    "material" "Material" {
        "pla" "PLA", "petg" "PETG", "abs" "ABS", "asa" "ASA", "tpu" "TPU (soft)", "pa" "PA (nylon type)", "pc" "PC", "other" "another family",
    }
}

/// Position of `material` in [`FIELDS`]; the fields before it are the machine's profile.
pub const MATERIAL: usize = FIELDS.len() - 1;

/// What is known of machine and material. A field not known is `None` and counts as "no evidence".
#[derive(Debug, Clone, Copy, Default, PartialEq, Eq)]
pub struct Context([Option<u8>; FIELDS.len()]);

impl Context {
    /// Sets a field by its identifiers.
    ///
    /// # Errors
    /// Says which field or value is unknown, what is allowed and which known one is nearest.
    pub fn set(&mut self, field: &str, value: &str) -> Result<(), String> {
        let (field, value) = find(field, value)?;
        self.0[field] = Some(value);
        Ok(())
    }

    /// The value of a field, if known.
    pub fn get(&self, field: &str) -> Option<&'static Value> {
        let index = FIELDS.iter().position(|f| f.id == field)?;
        self.0[index].map(|v| &FIELDS[index].values[v as usize])
    }

    /// The identifier of a field's value, if known.
    pub fn id(&self, field: &str) -> Option<&'static str> {
        self.get(field).map(|v| v.id)
    }

    /// Known fields with their values, in the order of [`FIELDS`].
    pub fn known(&self) -> impl Iterator<Item = (&'static Field, &'static Value)> + '_ {
        FIELDS
            .iter()
            .enumerate()
            .filter_map(|(i, f)| self.0[i].map(|v| (f, &f.values[v as usize])))
    }
}

/// A condition on the context: a field has one of some values, written `levelling=probe|nozzle-touch`.
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
            let (i, v) = find(field.trim(), value.trim())?;
            index = i;
            found.push(v);
        }
        Ok(Self {
            field: index,
            values: found,
        })
    }

    /// `Some(true)` when it holds, `Some(false)` when the context contradicts it, `None` when the field is not known.
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

fn find(field: &str, value: &str) -> Result<(usize, u8), String> {
    let index = FIELDS.iter().position(|f| f.id == field).ok_or_else(|| {
        format!(
            "`{}` is not a field of the machine{}",
            short(field),
            hint(field, FIELDS.iter().map(|f| f.id))
        )
    })?;
    let values = FIELDS[index].values;
    let v = values.iter().position(|v| v.id == value).ok_or_else(|| {
        let allowed: Vec<_> = values.iter().map(|v| v.id).collect();
        format!(
            "`{}` is not known for `{field}`: allowed are {}{}",
            short(value),
            allowed.join(", "),
            hint(value, allowed.iter().copied())
        )
    })?;
    Ok((index, v as u8))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_unknown_value_names_what_is_allowed_and_the_nearest() {
        let err = Context::default().set("feed", "bowdn").unwrap_err();
        assert_eq!(
            err,
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
