//! A measure at the bench: what is still to be read, what makes no sense, or what follows.

use super::given::Given;
use super::{Input, Inputs, Measure, Out, Refused};
use std::collections::BTreeMap;

/// What came of the numbers typed so far.
#[derive(Debug)]
pub enum Bench {
    /// Nothing follows yet: these are still to be read.
    Missing(Vec<&'static Input>),
    /// A number makes no sense: by input, or by none where they make no sense together.
    Wrong(BTreeMap<&'static str, Refused>, Option<Refused>),
    /// What follows.
    Says(Given, Out),
}

impl Measure {
    /// Reads what was typed so far and reckons what follows. `confirmed`: a person has said that
    /// what looks like a slip is so.
    pub fn bench(&self, raw: &Inputs, confirmed: bool) -> Bench {
        let alone = |input: &&'static Input| {
            let value = raw.get(input.id)?;
            let one = Inputs::from([(input.id.to_string(), value.clone())]);
            let read = Given::read(self.id, std::slice::from_ref(*input), &one);
            read.err().map(|why| (input.id, why))
        };
        let wrong: BTreeMap<_, _> = self.inputs.iter().filter_map(|i| alone(&i)).collect();
        if !wrong.is_empty() {
            return Bench::Wrong(wrong, None);
        }
        let missing = self.inputs.iter();
        let missing: Vec<&Input> = missing
            .filter(|i| i.needed && !raw.contains_key(i.id))
            .collect();
        if !missing.is_empty() {
            return Bench::Missing(missing);
        }
        let out = match confirmed {
            true => self.reckon_confirmed(raw),
            false => self.reckon(raw),
        };
        let given = Given::read(self.id, self.inputs, raw);
        match out.and_then(|out| Ok((given?, out))) {
            Ok((given, out)) => Bench::Says(given, out),
            Err(why) => match self.told(&why).0 {
                Some(input) => Bench::Wrong(BTreeMap::from([(input.id, why)]), None),
                None => Bench::Wrong(BTreeMap::new(), Some(why)),
            },
        }
    }

    /// The first input a refusal names, and its text in the words of the inputs.
    pub fn told(&self, refused: &Refused) -> (Option<&'static Input>, String) {
        let (named, text) = refused.in_words(|id| Some(self.input(id)?.plain));
        (named.and_then(|id| self.input(&id)), text)
    }

    /// The numbers of the example, as a person types them.
    pub fn example(&self) -> Inputs {
        let typed = self.card.example.iter();
        typed
            .map(|(id, text)| ((*id).to_string(), super::Raw::Text((*text).to_string())))
            .collect()
    }
}
