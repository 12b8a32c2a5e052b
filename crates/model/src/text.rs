//! Text from outside: what may be in it, and how it is made harmless where it goes.

/// Most characters of a name, a place or a position.
pub const MOST_CHARACTERS: usize = 200;

/// What is wrong with a text that stands in one line, as a sentence; none when nothing is.
pub fn flaw(text: &str) -> Option<String> {
    if let Some(at) = text.chars().position(char::is_control) {
        return Some(format!(
            "character {} is a control character: expected text in one line",
            at + 1
        ));
    }
    let count = text.chars().count();
    (count > MOST_CHARACTERS)
        .then(|| format!("{count} characters are too many: expected at most {MOST_CHARACTERS}"))
}

/// A text in one line, for formats in which a new line begins something new.
pub fn one_line(text: &str) -> String {
    let plain = |c: char| if c.is_control() { ' ' } else { c };
    text.chars().map(plain).collect()
}

/// What a cell begins with that a spreadsheet takes for a formula.
const FORMULA: [char; 6] = ['=', '+', '-', '@', '\t', '\r'];

/// A text that a spreadsheet does not take for a formula; one that is quoted already is quoted once more, so that it
/// comes back as it was.
pub fn inert(text: &str) -> String {
    match text.trim_start_matches('\'').starts_with(FORMULA) {
        true => format!("'{text}"),
        false => text.to_owned(),
    }
}

/// The text that [`inert`] was given.
pub fn as_written(cell: &str) -> &str {
    match cell.strip_prefix('\'') {
        Some(rest) if rest.trim_start_matches('\'').starts_with(FORMULA) => rest,
        _ => cell,
    }
}

/// A number as somebody wrote it, short also where it is far out of any range: "0.75", "1e308".
pub fn figure(v: f64) -> String {
    let plain = v == 0.0 || (1e-6..1e9).contains(&v.abs());
    match plain {
        true => v.to_string(),
        false => format!("{v:e}"),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_text_in_one_line_is_sound() {
        assert_eq!(flaw("Work lamps, front · 2 × 55 W"), None);
        let said = flaw("lamps\n.control").unwrap_or_default();
        assert!(
            said.starts_with("character 6 is a control character"),
            "{said}"
        );
        assert!(flaw(&"x".repeat(MOST_CHARACTERS + 1)).is_some());
    }

    #[test]
    fn a_formula_is_made_harmless_and_comes_back() {
        for text in ["=1+1", "-2", "@x", "+", "engine", "'quoted'", ""] {
            let cell = inert(text);
            assert!(!cell.starts_with(FORMULA));
            assert_eq!(as_written(&cell), text);
        }
    }

    #[test]
    fn a_figure_is_short() {
        let said = [0.0, 0.75, -12.0, 200.0, 1e308, 3e-9, f64::INFINITY].map(figure);
        assert_eq!(said, ["0", "0.75", "-12", "200", "1e308", "3e-9", "inf"]);
    }
}
