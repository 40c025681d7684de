//! Fields of a form as they were sent, kept so that they can be shown again.

use crate::page_error::PageError;
use crate::protection::LARGEST_FORM;
use axum::body::to_bytes;
use axum::extract::{FromRequest, Request};
use axum::http::header;
use std::collections::BTreeMap;

/// The fields of a form, in the order sent.
#[derive(Debug, Clone, Default)]
pub struct Fields(pub Vec<(String, String)>);

/// Messages by field.
pub type Errors = BTreeMap<String, String>;

impl Fields {
    /// A field's value without surrounding blanks; empty when it was not sent.
    pub fn get(&self, name: &str) -> &str {
        self.0
            .iter()
            .find(|(n, _)| n == name)
            .map_or("", |(_, v)| v.trim())
    }

    /// A field's value, or `None` when it is empty or was not sent.
    pub fn given(&self, name: &str) -> Option<&str> {
        Some(self.get(name)).filter(|v| !v.is_empty())
    }

    /// Fields whose name starts with `prefix`, the prefix removed.
    pub fn with_prefix<'a>(&'a self, prefix: &'a str) -> impl Iterator<Item = (&'a str, &'a str)> {
        self.0
            .iter()
            .filter_map(move |(n, v)| Some((n.strip_prefix(prefix)?, v.trim())))
    }

    /// The sequence number the form was made for.
    pub fn seq(&self) -> u32 {
        self.get("seq").parse().unwrap_or(0)
    }

    /// A number that may be left out.
    ///
    /// # Errors
    /// When it is given and is no number.
    pub fn number(&self, name: &str, otherwise: f64) -> Result<f64, String> {
        match self.given(name) {
            None => Ok(otherwise),
            Some(text) => {
                let value: f64 = text.replace(',', ".").parse().map_err(|_| {
                    format!(
                        "{name} must be a number, but \"{}\" was given",
                        suspect_core::nearest::short(text)
                    )
                })?;
                Ok(value)
            }
        }
    }
}

impl<S: Send + Sync> FromRequest<S> for Fields {
    type Rejection = PageError;

    async fn from_request(request: Request, _state: &S) -> Result<Self, PageError> {
        let kind = request
            .headers()
            .get(header::CONTENT_TYPE)
            .and_then(|v| v.to_str().ok())
            .unwrap_or("");
        if !kind.starts_with("application/x-www-form-urlencoded") {
            return Err(PageError::NotAForm);
        }
        let bytes = to_bytes(request.into_body(), LARGEST_FORM)
            .await
            .map_err(|_| PageError::TooLarge)?;
        Ok(Self(form_urlencoded::parse(&bytes).into_owned().collect()))
    }
}
