//! A bar of a share of the whole, and a mark where something else lies.

/// The bar as wide as the page allows; `mark` is a share, too.
pub fn svg(share: f64, mark: Option<f64>) -> String {
    let wide = 100.0 * share.clamp(0.0, 1.0);
    let mark = mark.map_or_else(String::new, |at| {
        let x = 100.0 * at.clamp(0.0, 1.0);
        format!(r#"<path class="at" d="M{x:.1} 0V10"/>"#)
    });
    format!(
        r#"<svg class="share-bar" viewBox="0 0 100 10" preserveAspectRatio="none"
            aria-hidden="true"><rect class="whole" y="1" width="100" height="8"/><rect class="share"
            y="1" width="{wide:.1}" height="8"/>{mark}</svg>"#
    )
}
