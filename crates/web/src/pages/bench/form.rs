//! The fields of a measure as they were sent, as a case knows them, or as is usual.

use crate::drawing::bench::{Drawn, where_to_measure};
use crate::form::Fields;
use crate::pages::parts::link::Choice;
use crate::pages::parts::reading::InputView;
use crate::show;
use crate::words::measure as words;
use std::collections::BTreeMap;
use suspect_core::measures::{Input, Inputs, Kind, Measure, Raw, Refused};

/// A measure with what was typed so far.
pub struct Typed<'a> {
    measure: &'static Measure,
    fields: &'a Fields,
    known: Inputs,
}

impl<'a> Typed<'a> {
    /// What was sent; where nothing was, what is known.
    pub fn new(measure: &'static Measure, fields: &'a Fields, known: Inputs) -> Self {
        Self {
            measure,
            fields,
            known,
        }
    }

    /// What there is to reckon with.
    pub fn raw(&self) -> Inputs {
        let value = |input: &&Input| match self.fields.sent(input.id) {
            Some(text) => Some(text.trim())
                .filter(|t| !t.is_empty())
                .map(|t| Raw::Text(t.into())),
            None => self.known.get(input.id).cloned(),
        };
        let given = self.measure.inputs.iter();
        given
            .filter_map(|i| Some((i.id.to_string(), value(&i)?)))
            .collect()
    }

    /// Parameters that bring the same page again.
    pub fn parameters(&self) -> Vec<(&'static str, String)> {
        let ids = self.measure.inputs.iter().map(|i| i.id);
        let sent = ids.filter_map(|id| Some((id, self.fields.sent(id)?.trim().to_string())));
        sent.collect()
    }

    /// The text in a field.
    fn text(&self, input: &Input) -> String {
        match (self.fields.sent(input.id), self.known.get(input.id)) {
            (Some(text), _) => text.to_string(),
            (None, Some(raw)) => shown(raw),
            (None, None) => input.usual.map(show::exact).unwrap_or_default(),
        }
    }

    /// The drawing with the numbers in it.
    pub fn drawing(&self) -> Drawn {
        let number = |id: &'static str| {
            let input = self.measure.input(id)?;
            words::in_drawing(input, &self.text(input))
        };
        where_to_measure(self.measure.id, self.measure.plain, &number)
    }

    /// The fields: those that are read or set, and those that are nearly always as usual.
    pub fn views(
        &self,
        drawn: &Drawn,
        wrong: &BTreeMap<&'static str, Refused>,
    ) -> (Vec<InputView>, Vec<InputView>) {
        let asked = self.measure.inputs.iter().filter(|i| i.kind != Kind::Text);
        let (shown, folded): (Vec<&Input>, Vec<&Input>) =
            asked.partition(|i| self.stands_open(i, drawn));
        let mut shown = shown;
        shown.sort_by_key(|i| drawn.letter(i.id).unwrap_or(char::MAX));
        let view = |i: &Input| self.view(i, drawn, wrong.get(i.id));
        (
            shown.into_iter().map(view).collect(),
            folded.into_iter().map(view).collect(),
        )
    }

    /// Whether a field stands open: what is needed, what a case gives, what the drawing shows and
    /// nothing is usual for; and where nothing is needed, what has no usual value.
    fn stands_open(&self, input: &Input, drawn: &Drawn) -> bool {
        let ways = self.measure.inputs.iter().all(|i| !i.needed);
        let drawn = drawn.letter(input.id).is_some();
        input.needed
            || input.setting.is_some()
            || drawn
            || (ways && input.usual.is_none() && !matches!(input.kind, Kind::Choice(_)))
    }

    fn view(&self, input: &Input, drawn: &Drawn, wrong: Option<&Refused>) -> InputView {
        let text = self.text(input);
        let words = match input.kind {
            Kind::Choice(of) => of,
            _ => &[],
        };
        let choices = words.iter().map(|w| Choice {
            value: (*w).into(),
            label: w.replace('-', " "),
            chosen: *w == text,
        });
        InputView {
            id: input.id,
            label: show::capital(input.plain),
            letter: drawn.letter(input.id),
            unit: input.unit.shown(),
            several: matches!(input.kind, Kind::Readings(..)),
            optional: !input.needed,
            note: converted(input, &text),
            error: wrong.map(|why| in_words(self.measure, why)),
            take: None,
            choices: choices.collect(),
            value: text,
        }
    }
}

/// A refusal in the words of the fields.
pub fn in_words(measure: &Measure, refused: &Refused) -> String {
    show::sentence(&measure.told(refused).1)
}

/// What a case knows of an input, as it stands in a field.
fn shown(raw: &Raw) -> String {
    match raw {
        Raw::Number(value) => show::exact(*value),
        Raw::Text(text) => text.clone(),
        Raw::List(all) => all.iter().map(shown).collect::<Vec<_>>().join(" "),
    }
}

fn converted(input: &Input, text: &str) -> Option<String> {
    let (_, notes) = words::numbers(input, text);
    let unit = input.unit.shown();
    (!notes.is_empty()).then(|| {
        format!("{} {unit}", notes.join("; "))
            .trim_end()
            .to_string()
    })
}
