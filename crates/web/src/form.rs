//! Fields of a form as they were sent, kept so that they can be shown again.

use crate::page_error::PageError;
use crate::screen;
use crate::words::refusal;
use axum::body::to_bytes;
use axum::extract::{FromRequest, Request};
use axum::http::header;
use std::cmp::Ordering;
use std::collections::BTreeMap;
use suspect_core::case::MOST_ENTRIES_AT_ONCE;
use suspect_core::settings::{NumberProblem, read_number};
use suspect_store::{Stamp, Touch, Uuid};
use time::macros::format_description;
use time::{Date, Duration, OffsetDateTime};

/// Largest form accepted, in bytes. Far above any honest form, so that an overlong text still comes
/// back beside its field.
pub const LARGEST_FORM: usize = 2 * 1024 * 1024;
/// Most fields of one form: the longest list of questions has a third of it.
const MOST_FIELDS: usize = 3 * MOST_ENTRIES_AT_ONCE;
/// Fields that may be sent several times; of any other the last value counts.
const SEVERAL: [&str; 10] = [
    "tool", "seen", "after", "also", "take", "state", "other", "old", "raises", "people",
];
/// Touches under way that one more may name.
const MOST_UNDER_WAY: usize = 50;
/// Fields that belong to the form and not to what a person says with it.
const OF_THE_FORM: [&str; 3] = ["seq", "touch", "after"];

/// The fields of a form, in the order sent, each once.
#[derive(Debug, Clone, Default)]
pub struct Fields(Vec<(String, String)>);

/// Messages by field.
pub type Errors = BTreeMap<String, String>;

impl Fields {
    /// Fields from names and values. Where a name comes several times the last value counts.
    pub fn of(pairs: impl IntoIterator<Item = (String, String)>) -> Self {
        let mut fields = Self::default();
        for (name, value) in pairs {
            fields.push(name, value);
        }
        fields
    }

    /// The parameters of an address.
    pub fn of_query(query: Option<String>) -> Self {
        let query = query.unwrap_or_default();
        Self::of(form_urlencoded::parse(query.as_bytes()).into_owned())
    }

    /// One field more.
    pub fn push(&mut self, name: String, value: String) {
        let several = SEVERAL.contains(&name.as_str());
        let there = |(n, v): &&mut (String, String)| *n == name && (!several || *v == value);
        match self.0.iter_mut().find(there) {
            Some(field) => field.1 = value,
            None => self.0.push((name, value)),
        }
    }

    /// Whether nothing was sent.
    pub fn is_empty(&self) -> bool {
        self.0.is_empty()
    }

    /// A field's value as it was sent.
    pub fn sent(&self, name: &str) -> Option<&str> {
        let field = self.0.iter().find(|(n, _)| n == name);
        field.map(|(_, v)| v.as_str())
    }

    /// A field's value without surrounding blanks; empty when it was not sent.
    pub fn get(&self, name: &str) -> &str {
        self.sent(name).map_or("", str::trim)
    }

    /// A field's value, or `None` when it is empty or was not sent.
    pub fn given(&self, name: &str) -> Option<&str> {
        Some(self.get(name)).filter(|v| !v.is_empty())
    }

    /// Values of a field that may be sent several times.
    pub fn all<'a>(&'a self, name: &'a str) -> impl Iterator<Item = &'a str> {
        self.0
            .iter()
            .filter(move |(n, _)| n == name)
            .map(|(_, v)| v.as_str())
    }

    /// Fields whose name starts with `prefix`, the prefix removed.
    pub fn with_prefix<'a>(&'a self, prefix: &'a str) -> impl Iterator<Item = (&'a str, &'a str)> {
        self.0
            .iter()
            .filter_map(move |(n, v)| Some((n.strip_prefix(prefix)?, v.trim())))
    }

    /// What a person said with the form, without what the page put into it.
    pub fn said(&self) -> impl Iterator<Item = &(String, String)> {
        self.0
            .iter()
            .filter(|(name, _)| !OF_THE_FORM.contains(&name.as_str()))
    }

    /// A day, as its field sends it: noon, so that it is that day wherever the workshop is. None
    /// where it was left empty, or is today at the moment given: what is done now has no day told.
    ///
    /// # Errors
    /// What was sent, where it is no day.
    pub fn earlier(
        &self,
        name: &str,
        now: OffsetDateTime,
    ) -> Result<Option<OffsetDateTime>, String> {
        let Some(sent) = self.given(name) else {
            return Ok(None);
        };
        let day = day(sent).ok_or_else(|| suspect_core::nearest::short(sent))?;
        let noon = day.with_hms(12, 0, 0).unwrap_or(day.midnight());
        let noon = noon.assume_utc();
        // The day is the workshop's; where that is ahead, yesterday's noon may not be over yet.
        let today = crate::show::form_day(now);
        Ok(match day.to_string().as_str().cmp(today.as_str()) {
            Ordering::Less => Some(noon.min(now)),
            Ordering::Equal => None,
            Ordering::Greater => Some(noon.max(now + Duration::DAY)),
        })
    }

    /// The sequence number the form was made for.
    pub fn seq(&self) -> u32 {
        self.get("seq").parse().unwrap_or(0)
    }

    /// Steps that were ticked, from 1.
    pub fn ticked(&self) -> Vec<u32> {
        self.all("seen").filter_map(|n| n.parse().ok()).collect()
    }

    /// When, who, and by which touch the form was sent.
    pub fn stamp(&self, at: OffsetDateTime) -> Stamp {
        let id = self.get("touch").parse::<Uuid>().ok();
        let under_way = self.all("after").flat_map(|list| list.split(','));
        let after = under_way
            .filter_map(|t| t.trim().parse().ok())
            .take(MOST_UNDER_WAY);
        Stamp {
            at,
            by: screen::who(),
            touch: id.map(|id| Touch {
                id,
                after: after.collect(),
            }),
        }
    }

    /// Who answers for the form: whoever signed in; else the name given in it, else who is here.
    pub fn by(&self) -> String {
        if screen::signs_in() {
            return screen::who().unwrap_or_default();
        }
        let given = self.sent("by").map(str::to_string);
        given.or_else(screen::who).unwrap_or_default()
    }

    /// A number that may be left out.
    ///
    /// # Errors
    /// When it is given and is no number, or can be read in two ways.
    pub fn number(&self, name: &str, otherwise: f64) -> Result<f64, NumberProblem> {
        self.given(name)
            .map_or(Ok(otherwise), |text| read_number(name, text))
    }
}

impl Fields {
    /// A number that may be left out, called by its words where it makes no sense.
    ///
    /// # Errors
    /// As [`Fields::number`].
    pub fn optional(&self, name: &str, plain: &str) -> Result<Option<f64>, NumberProblem> {
        let given = self.given(name).map(|text| read_number(plain, text));
        given.transpose()
    }

    /// The same; what makes no sense is told beside the field.
    pub fn optional_or_say(
        &self,
        name: &str,
        plain: &str,
        errors: &mut Errors,
    ) -> Option<Option<f64>> {
        let read = self.optional(name, plain);
        let told = read.map_err(|problem| {
            errors.insert(name.to_string(), refusal::number(&problem));
        });
        told.ok()
    }
}

/// A day as its field sends it.
pub fn day(sent: &str) -> Option<Date> {
    Date::parse(sent, format_description!("[year]-[month]-[day]")).ok()
}

/// Its beginning.
pub fn midnight(sent: &str) -> Option<OffsetDateTime> {
    Some(day(sent)?.midnight().assume_utc())
}

/// What a field of a template is given that is never refused.
pub fn no_error() -> Option<&'static str> {
    None
}

/// The identity of a form: made by its page, so that one press counts once however often it
/// arrives.
pub fn touch() -> String {
    let id = Uuid::new_v4();
    format!(r#"<input type="hidden" name="touch" value="{id}" autocomplete="off">"#)
}

/// Messages about fields that a page does not show: told at its head, so that no refusal is silent.
pub fn not_shown(errors: &Errors, shown: impl Fn(&str) -> bool) -> Vec<String> {
    errors
        .iter()
        .filter(|(field, _)| !shown(field))
        .map(|(_, message)| message.clone())
        .collect()
}

impl<S: Send + Sync> FromRequest<S> for Fields {
    type Rejection = PageError;

    async fn from_request(request: Request, _state: &S) -> Result<Self, PageError> {
        let kind = request.headers().get(header::CONTENT_TYPE);
        let kind = kind.and_then(|v| v.to_str().ok()).unwrap_or("");
        if !kind.starts_with("application/x-www-form-urlencoded") {
            return Err(PageError::NotAForm);
        }
        let bytes = to_bytes(request.into_body(), LARGEST_FORM).await;
        let bytes = bytes.map_err(|_| PageError::TooLarge)?;
        // Counted before anything is read: two megabytes hold a million empty fields.
        if bytes.iter().filter(|b| **b == b'&').count() >= MOST_FIELDS {
            return Err(PageError::TooManyFields(MOST_FIELDS));
        }
        Ok(Self::of(form_urlencoded::parse(&bytes).into_owned()))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn fields(text: &str) -> Fields {
        Fields::of(form_urlencoded::parse(text.as_bytes()).into_owned())
    }

    #[test]
    fn of_a_field_sent_again_and_again_the_last_value_counts() {
        let sent =
            fields("seq=3&n.layer_mm=0.1&n.layer_mm=0.2&n.layer_mm=0.3&rest.0=yes&rest.0=yes");
        assert_eq!(
            sent.with_prefix("n.").collect::<Vec<_>>(),
            [("layer_mm", "0.3")]
        );
        assert_eq!(sent.with_prefix("rest.").count(), 1);
        let tools = fields("tool=pen&tool=torch&tool=pen");
        assert_eq!(tools.all("tool").collect::<Vec<_>>(), ["pen", "torch"]);
    }

    #[test]
    fn a_touch_names_those_that_were_under_way() {
        let (one, two) = (Uuid::new_v4(), Uuid::new_v4());
        let sent = fields(&format!("touch={one}&after={two},nonsense"));
        let touch = sent.stamp(OffsetDateTime::UNIX_EPOCH).touch.unwrap();
        assert_eq!((touch.id, touch.after), (one, vec![two]));
        assert_eq!(
            fields("touch=x").stamp(OffsetDateTime::UNIX_EPOCH).touch,
            None
        );
        assert_eq!(sent.said().count(), 0);
    }
}
