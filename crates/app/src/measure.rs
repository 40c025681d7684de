//! `usual-suspect measure`: readings in, result with its uncertainty out. Needs no database.

use crate::files;
use anyhow::Result;
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use clap::Args;
use serde_json::{Map, Value, json};
use std::fmt::Write;
use std::io::Read;
use std::path::{Path, PathBuf};
use std::process::ExitCode;
use suspect_core::measures::{Input, Kind, Refused, answer, measure, measures, read_trace};
use suspect_pictures::{Grey, LARGEST_FILE};

/// Largest request or file that is read, in bytes: a recording of ten seconds is smaller.
const LARGEST: u64 = 8 * 1024 * 1024;

#[derive(Args)]
pub struct Options {
    /// The measure, or `list` for all of them with their inputs.
    measure: String,
    /// A file to read from: a recording (WAV) for `tone`, a table (CSV) for `temperature-trace`, a
    /// photo for `photo-rhythm`.
    file: Option<PathBuf>,
    /// Where on the photo the line lies, in pixels: `--line x1,y1,x2,y2`.
    #[arg(long, value_name = "X1,Y1,X2,Y2", allow_hyphen_values = true)]
    line: Option<String>,
    /// Length of the reference on the photo, in pixels.
    #[arg(long, value_name = "N")]
    scale_px: Option<String>,
    /// Length of the reference in truth, in millimetres.
    #[arg(long, value_name = "N")]
    scale_mm: Option<String>,
    /// Print JSON; `-` reads `{"inputs": {…}, "case": {…}}` from standard input.
    #[arg(long, num_args = 0..=1, default_missing_value = "")]
    json: Option<String>,
    /// An input as a person types it: `--input set_c=210`.
    #[arg(long = "input", value_name = "NAME=VALUE")]
    inputs: Vec<String>,
}

/// Reckons; a refusal is one line on standard error and exit status 2.
pub fn run(options: &Options) -> Result<ExitCode> {
    if options.measure == "list" {
        crate::print_out(&list())?;
        return Ok(ExitCode::SUCCESS);
    }
    let answered = request(options).and_then(|asked| {
        let of = measure(&options.measure).map_err(|e| e.to_string())?;
        answer(of, &asked).map_err(|Refused(why)| why)
    });
    crate::told(answered.map(|answer| match options.json {
        Some(_) => format!("{answer}\n"),
        None => in_words(&answer),
    }))
}

/// What is asked: from standard input, a file, or the command line alone.
fn request(options: &Options) -> Result<Value, String> {
    let mut asked = match options.json.as_deref() {
        Some("-") => piped()?,
        Some("") | None => json!({ "inputs": {} }),
        Some(other) => {
            return Err(format!(
                "--json {other}: only `-`, standard input, can be read"
            ));
        }
    };
    let mut more = Map::new();
    if let Some(file) = &options.file {
        more.extend(of_file(options, file)?);
    }
    for (name, value) in [
        ("scale_px", &options.scale_px),
        ("scale_mm", &options.scale_mm),
    ] {
        more.extend(value.iter().map(|v| (name.to_string(), json!(v))));
    }
    for pair in &options.inputs {
        let Some((name, value)) = pair.split_once('=') else {
            return Err(format!("--input {pair}: NAME=VALUE is wanted"));
        };
        more.insert(name.to_string(), json!(value));
    }
    if more.is_empty() {
        return Ok(asked);
    }
    match asked.get_mut("inputs").and_then(Value::as_object_mut) {
        Some(inputs) => inputs.extend(more),
        None => return Err("`inputs` must be an object".into()),
    }
    Ok(asked)
}

fn piped() -> Result<Value, String> {
    let mut text = String::new();
    let read = std::io::stdin()
        .lock()
        .take(LARGEST + 1)
        .read_to_string(&mut text);
    read.map_err(|e| format!("the request is not readable as text: {e}"))?;
    if text.len() as u64 > LARGEST {
        return Err(format!(
            "the request is longer than {LARGEST} bytes, which none needs"
        ));
    }
    serde_json::from_str(&text).map_err(|e| format!("the request is not understood: {e}"))
}

/// The inputs a file gives a measure.
fn of_file(options: &Options, file: &Path) -> Result<Map<String, Value>, String> {
    let told = |e: anyhow::Error| format!("{e:#}");
    let mut inputs = Map::new();
    match options.measure.as_str() {
        "tone" => {
            let bytes = files::head(file, LARGEST + 1).map_err(told)?;
            if bytes.len() as u64 > LARGEST {
                let shown = files::shown(file);
                return Err(format!(
                    "{shown} has more than {LARGEST} bytes: record one to three seconds"
                ));
            }
            inputs.insert("wav_base64".into(), json!(STANDARD.encode(bytes)));
        }
        "temperature-trace" => {
            let text = files::read_text(file, LARGEST).map_err(told)?;
            let trace = read_trace(&text).map_err(|Refused(why)| why)?;
            inputs.insert("time_s".into(), json!(trace.times));
            inputs.insert("temp_c".into(), json!(trace.values));
        }
        "photo-rhythm" => {
            let line = options.line.as_deref().unwrap_or_default();
            inputs.insert("profile".into(), json!(profile(file, line)?));
        }
        other => return Err(format!("`{other}` reads no file")),
    }
    Ok(inputs)
}

/// Brightness along a line of a photo.
fn profile(file: &Path, line: &str) -> Result<Vec<f64>, String> {
    let numbers = line.split(',').map(|n| n.trim().parse::<f64>());
    let places: Vec<f64> = numbers.collect::<Result<_, _>>().unwrap_or_default();
    let [x1, y1, x2, y2] = places[..] else {
        return Err(format!(
            "--line \"{line}\": four numbers are wanted, x1,y1,x2,y2 in pixels"
        ));
    };
    let bytes = files::head(file, LARGEST_FILE as u64 + 1).map_err(|e| format!("{e:#}"))?;
    let shown = files::shown(file);
    let photo = Grey::open(&bytes).map_err(|why| format!("{shown}: {why}"))?;
    let (w, h) = photo.size();
    photo
        .along((x1, y1), (x2, y2))
        .ok_or_else(|| format!("--line {line}: it must lie within the photo of {w} × {h} pixels"))
}

/// The answer for people.
fn in_words(answer: &Value) -> String {
    let mut text = format!("{}\n", answer["result"].as_str().unwrap_or_default());
    for warning in answer["warnings"].as_array().into_iter().flatten() {
        let _ = writeln!(text, "! {}", warning.as_str().unwrap_or_default());
    }
    for (name, value) in answer["outputs"].as_object().into_iter().flatten() {
        let value = value
            .as_str()
            .map_or_else(|| value.to_string(), str::to_string);
        let _ = writeln!(text, "  {name} = {value}");
    }
    text
}

/// Every measure with its inputs.
fn list() -> String {
    let mut text = String::new();
    for measure in measures() {
        let _ = writeln!(text, "{}: {}", measure.id, measure.plain);
        for input in measure.inputs {
            let _ = writeln!(text, "    {}", of_input(input));
        }
    }
    text
}

fn of_input(input: &Input) -> String {
    let (low, high) = input.range;
    let what = match input.kind {
        Kind::Number => format!("{low} to {high}"),
        Kind::Whole => format!("whole, {low} to {high}"),
        Kind::Readings(asked, least, most) => {
            format!("{asked} readings ({least} to {most} taken), {low} to {high}")
        }
        Kind::Choice(of) => of.join(", "),
        Kind::Text => "text".into(),
    };
    let need = match (input.needed, input.usual) {
        (true, _) => ", needed".to_string(),
        (_, Some(usual)) => format!(", usual {usual}"),
        _ => String::new(),
    };
    format!("{}: {what}{need}; {}", input.id, input.plain)
}
