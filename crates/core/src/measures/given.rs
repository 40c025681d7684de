//! What was given to a measure, read and checked.

use super::input::{Input, Kind};
use super::refused::{Refused, refuse};
use crate::nearest::hint;
use std::collections::BTreeMap;

/// A value as it came, before it is read.
#[derive(Debug, Clone, PartialEq, serde::Serialize, serde::Deserialize)]
#[serde(untagged)]
pub enum Raw {
    /// A number.
    Number(f64),
    /// As a person typed it.
    Text(String),
    /// Several.
    List(Vec<Raw>),
}

/// A value as it was read.
#[derive(Debug, Clone, PartialEq)]
enum Value {
    Number(f64),
    List(Vec<f64>),
    Word(String),
}

/// The values of a measure's inputs.
#[derive(Debug, Clone, Default)]
pub struct Given {
    values: BTreeMap<&'static str, Value>,
    /// Words on what was converted.
    pub(super) notes: Vec<String>,
}

impl Given {
    /// Reads what was given for some inputs; what is usual fills in what was not.
    ///
    /// # Errors
    /// Names the input, the value, and what would do.
    pub fn read(
        measure: &str,
        inputs: &[Input],
        raw: &BTreeMap<String, Raw>,
    ) -> Result<Self, Refused> {
        if let Some(id) = raw.keys().find(|id| !inputs.iter().any(|i| i.id == *id)) {
            let near = hint(id, inputs.iter().map(|i| i.id));
            return refuse(format!("`{id}` is no input of `{measure}`{near}"));
        }
        let mut given = Self::default();
        for input in inputs {
            if let Some(value) = given.value(input, raw.get(input.id))? {
                given.values.insert(input.id, value);
            }
        }
        Ok(given)
    }

    fn value(&mut self, input: &Input, raw: Option<&Raw>) -> Result<Option<Value>, Refused> {
        let id = input.id;
        let Some(raw) = raw else {
            return match (input.needed, input.kind, input.usual) {
                (true, _, _) => refuse(format!("{id} is missing")),
                (_, Kind::Choice(of), _) => Ok(Some(Value::Word(of[0].into()))),
                (_, _, usual) => Ok(usual.map(Value::Number)),
            };
        };
        match (input.kind, raw) {
            (Kind::Text, Raw::Text(text)) => Ok(Some(Value::Word(text.clone()))),
            (Kind::Text, _) => refuse(format!("{id} must be text")),
            (Kind::Choice(of), Raw::Text(word)) if of.contains(&word.as_str()) => {
                Ok(Some(Value::Word(word.clone())))
            }
            (Kind::Choice(of), _) => refuse(format!(
                "{id} must be one of {}, but {} was given",
                of.join(", "),
                told(raw)
            )),
            (Kind::Readings(_, least, most), raw) => {
                let parts = parts(raw);
                if !(least..=most).contains(&parts.len()) {
                    return refuse(format!(
                        "{id} takes {least} to {most} readings, but {} were given",
                        parts.len()
                    ));
                }
                let read = parts.iter().map(|p| self.number(input, p));
                Ok(Some(Value::List(read.collect::<Result<_, _>>()?)))
            }
            (_, Raw::List(many)) => match many.as_slice() {
                [one] => Ok(Some(Value::Number(self.number(input, one)?))),
                many => refuse(format!("{id} is one number, but {} were given", many.len())),
            },
            (_, one) => Ok(Some(Value::Number(self.number(input, one)?))),
        }
    }

    fn number(&mut self, input: &Input, raw: &Raw) -> Result<f64, Refused> {
        match raw {
            Raw::Number(value) => input.given(*value, &mut self.notes),
            Raw::Text(text) => input.typed(text, &mut self.notes),
            Raw::List(_) => refuse(format!("{} must be a number", input.id)),
        }
    }

    /// A number that is needed or has a usual value; NaN where there is none.
    pub fn num(&self, id: &str) -> f64 {
        self.maybe(id).unwrap_or(f64::NAN)
    }

    /// A number, where it was given or is usual.
    pub fn maybe(&self, id: &str) -> Option<f64> {
        match self.values.get(id) {
            Some(Value::Number(value)) => Some(*value),
            _ => None,
        }
    }

    /// Readings; empty where none were given.
    pub fn list(&self, id: &str) -> &[f64] {
        match self.values.get(id) {
            Some(Value::List(values)) => values,
            _ => &[],
        }
    }

    /// An input as it was read, in its own unit.
    pub fn raw(&self, id: &str) -> Option<Raw> {
        self.values.get(id).map(|value| match value {
            Value::Number(v) => Raw::Number(*v),
            Value::Word(word) => Raw::Text(word.clone()),
            Value::List(all) => Raw::List(all.iter().map(|v| Raw::Number(*v)).collect()),
        })
    }

    /// A word: a choice or a text.
    pub fn word(&self, id: &str) -> &str {
        match self.values.get(id) {
            Some(Value::Word(word)) => word,
            _ => "",
        }
    }

    /// Lists that belong together, point by point.
    ///
    /// # Errors
    /// When one is longer than another.
    pub fn together<const N: usize>(&self, ids: [&str; N]) -> Result<[&[f64]; N], Refused> {
        let lists = ids.map(|id| self.list(id));
        match lists.iter().all(|l| l.len() == lists[0].len()) {
            true => Ok(lists),
            false => refuse(format!("{} must have the same length", ids.join(", "))),
        }
    }
}

/// Several values in one: a list, or a line with several numbers.
fn parts(raw: &Raw) -> Vec<Raw> {
    match raw {
        Raw::List(many) => many.clone(),
        Raw::Text(text) => Input::parts(text).into_iter().map(Raw::Text).collect(),
        Raw::Number(_) => vec![raw.clone()],
    }
}

/// A value as a refusal quotes it.
fn told(raw: &Raw) -> String {
    match raw {
        Raw::Number(value) => super::input::short(*value),
        Raw::Text(text) => format!("\"{}\"", crate::nearest::short(text)),
        Raw::List(_) => "a list".into(),
    }
}
