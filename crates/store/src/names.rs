//! What a person types to be shown in a line.

/// A text without blanks around it, where it is something, not too long, and stands in one line.
pub(crate) fn in_a_line(text: &str, longest: usize) -> Option<&str> {
    let text = text.trim();
    let fits = !text.is_empty() && text.chars().count() <= longest;
    (fits && !text.chars().any(char::is_control)).then_some(text)
}

/// A text of some lines without blanks around it, where it is something and not too long.
pub(crate) fn in_lines(text: &str, longest: usize) -> Option<&str> {
    let text = text.trim();
    let fits = !text.is_empty() && text.chars().count() <= longest;
    let control = |c: char| c.is_control() && c != '\n';
    (fits && !text.chars().any(control)).then_some(text)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_line_is_something_short_in_one_line() {
        assert_eq!(in_a_line("  R. Dalca ", 8), Some("R. Dalca"));
        for other in ["", "  ", "R. Dalcas", "R.\nDalca"] {
            assert_eq!(in_a_line(other, 8), None, "{other:?}");
        }
        assert_eq!(
            in_a_line("ÄÖÜ", 3),
            Some("ÄÖÜ"),
            "letters are counted, not bytes"
        );
    }

    #[test]
    fn lines_may_break_and_hold_nothing_that_cannot_be_seen() {
        assert_eq!(in_lines(" a\nb ", 3), Some("a\nb"));
        for other in ["", "\n", "abcd", "a\tb"] {
            assert_eq!(in_lines(other, 3), None, "{other:?}");
        }
    }
}
