//! A measure asked in JSON: what a program sends, and what it gets back.

use super::given::Raw;
use super::input::Kind;
use super::out::{Likelihoods, Out, Output};
use super::refused::{Refused, refuse};
use super::{Input, Measure};
use serde_json::{Map, Value, json};
use std::collections::BTreeMap;

/// Inputs by name, as they came.
pub type Inputs = BTreeMap<String, Raw>;

/// Answers a request: an object with `inputs`, and a `case` whose machine, material and settings
/// fill what was not given.
///
/// # Errors
/// In one line: which input, which value, what would do.
pub fn answer(measure: &Measure, request: &Value) -> Result<Value, Refused> {
    let Some(request) = request.as_object() else {
        return refuse("the request must be an object with `inputs`");
    };
    if let Some(key) = request
        .keys()
        .find(|k| !["inputs", "case"].contains(&k.as_str()))
    {
        let key = crate::nearest::short(key);
        return refuse(format!(
            "`{key}` is not understood: `inputs` and `case` are"
        ));
    }
    let mut inputs = match request.get("inputs") {
        None => Inputs::new(),
        Some(Value::Object(all)) => given(all)?,
        Some(_) => return refuse("`inputs` must be an object"),
    };
    let mut filled = Vec::new();
    if let Some(case) = request.get("case") {
        filled = fill(measure, &mut inputs, case)?;
    }
    let mut out = measure.reckon(&inputs)?;
    out.warnings.extend(filled);
    Ok(told(&out))
}

/// What was given, as it will be read; `null` is nothing.
fn given(all: &Map<String, Value>) -> Result<Inputs, Refused> {
    let some = all.iter().filter(|(_, v)| !v.is_null());
    some.map(|(id, v)| Ok((id.clone(), raw(id, v)?))).collect()
}

fn raw(id: &str, value: &Value) -> Result<Raw, Refused> {
    match value {
        Value::Number(n) => match n.as_f64() {
            Some(n) => Ok(Raw::Number(n)),
            None => refuse(format!("{id} must be a number")),
        },
        Value::String(text) => Ok(Raw::Text(text.clone())),
        Value::Array(many) => {
            let flat = many.iter().map(|v| match v {
                Value::Array(_) => refuse(format!("{id} must be numbers, not lists of them")),
                one => raw(id, one),
            });
            Ok(Raw::List(flat.collect::<Result<_, _>>()?))
        }
        _ => refuse(format!(
            "{} must be a number, a text or a list",
            crate::nearest::short(id)
        )),
    }
}

/// Fills inputs that were not given with what a case knows; says where that is of no use.
fn fill(measure: &Measure, inputs: &mut Inputs, case: &Value) -> Result<Vec<String>, Refused> {
    let Some(case) = case.as_object() else {
        return refuse("`case` must be an object");
    };
    let of = |part: &str, name: &str| case.get(part).and_then(|p| p.get(name));
    let known = |name: &str| match name {
        "material" => case.get("material"),
        name => of("settings", name).or_else(|| of("machine", name)),
    };
    let mut notes = Vec::new();
    for input in measure.inputs {
        let value = input.setting.and_then(known).filter(|v| !v.is_null());
        let Some(value) = value.filter(|_| !inputs.contains_key(input.id)) else {
            continue;
        };
        match unfit(input, value) {
            Some(note) => notes.push(note),
            None => {
                inputs.insert(input.id.to_string(), raw(input.id, value)?);
            }
        }
    }
    Ok(notes)
}

/// A word of the case that this measure knows nothing of, told.
fn unfit(input: &Input, value: &Value) -> Option<String> {
    let Kind::Choice(of) = input.kind else {
        return None;
    };
    let word = value.as_str()?;
    (!of.contains(&word)).then(|| {
        let word = crate::nearest::short(word);
        format!(
            "{}: nothing is known here of `{word}`: it was left out",
            input.id
        )
    })
}

fn told(out: &Out) -> Value {
    let outputs: Map<String, Value> = out
        .outputs
        .iter()
        .map(|(name, value)| (name.clone(), of_output(value)))
        .collect();
    let findings: Map<String, Value> = out
        .findings
        .iter()
        .map(|(finding, states)| ((*finding).to_string(), of_states(states)))
        .collect();
    json!({
        "outputs": outputs,
        "result": out.result,
        "warnings": out.warnings,
        "findings": findings,
    })
}

fn of_output(value: &Output) -> Value {
    match value {
        Output::Number(v) => json!(v),
        Output::Word(word) => json!(word),
        Output::Numbers(all) => json!(all),
        Output::Words(all) => json!(all),
    }
}

fn of_states(states: &Likelihoods) -> Value {
    let states: Map<String, Value> = states
        .iter()
        .map(|(state, l)| ((*state).to_string(), json!(l)))
        .collect();
    Value::Object(states)
}
