//! A title for a case.

/// A title from a person's own words: the first sentence, cut at a word where it is long. `None`
/// when there are none.
pub fn title(told: &str) -> Option<String> {
    const LONGEST: usize = 64;
    let sentence = told
        .trim()
        .split(['.', '!', '?', ';', '\n'])
        .map(str::trim)
        .find(|s| !s.is_empty())?;
    let mut title = String::new();
    for word in sentence.split_whitespace() {
        if title.chars().count() + word.chars().count() > LONGEST && !title.is_empty() {
            title.push('…');
            break;
        }
        if !title.is_empty() {
            title.push(' ');
        }
        title.extend(word.chars().take(LONGEST).filter(|c| *c != '\0'));
    }
    let mut chars = title.chars();
    chars
        .next()
        .map(|first| first.to_uppercase().chain(chars).collect())
}
