//! How wide a text is, in the font that the page ships with.
//!
//! Advance widths of Atkinson Hyperlegible Next (SIL Open Font License), read from the shipped files' `hmtx`
//! tables, in thousandths of an em: what overlaps is known without a browser.

use crate::Length;

/// Size of every text on a diagram, in diagram units; the whole is scaled afterwards.
pub const FONT: Length = 900;

/// Width of one figure of the font that readings are set in, in thousandths of an em, and its size.
const FIGURE: Length = 600;
const FIGURE_FONT: Length = 800;

/// Of a character that the tables do not have, as wide as a wide letter, in thousandths of an em.
const UNKNOWN: u16 = 800;

#[rustfmt::skip]
const PLAIN: [u16; 95] = [
    280, 286, 301, 651, 592, 919, 731, 160, 299, 299, 485, 606, 210, 362, 210, 387, 648, 407, 548, 576, 614, 588, 598, 510, 615,
    595, 210, 210, 553, 628, 553, 480, 778, 626, 613, 645, 669, 569, 552, 694, 694, 392, 512, 631, 541, 824, 693, 714, 592, 724,
    614, 592, 558, 690, 593, 856, 623, 575, 607, 317, 387, 344, 552, 372, 243, 525, 566, 485, 564, 538, 314, 558, 550, 252, 245,
    492, 262, 845, 550, 548, 566, 574, 349, 471, 326, 540, 461, 684, 481, 449, 460, 344, 237, 344, 555,
];

#[rustfmt::skip]
const BOLD: [u16; 95] = [
    312, 303, 390, 765, 610, 969, 725, 210, 335, 335, 485, 595, 271, 373, 272, 440, 659, 440, 579, 600, 624, 607, 626, 537, 624,
    571, 272, 272, 569, 612, 569, 547, 781, 678, 643, 658, 688, 597, 566, 718, 701, 424, 561, 663, 552, 858, 717, 746, 629, 756,
    650, 610, 607, 686, 644, 886, 685, 650, 618, 340, 440, 344, 582, 400, 288, 552, 596, 510, 596, 563, 365, 593, 571, 300, 259,
    555, 318, 882, 571, 576, 596, 599, 376, 508, 376, 567, 530, 740, 539, 521, 505, 381, 254, 381, 537,
];

fn advance(c: char, bold: bool) -> Length {
    let at = (c as usize).checked_sub(0x20);
    let table = if bold { &BOLD } else { &PLAIN };
    let known = match c {
        '·' => Some(if bold { 294 } else { 240 }),
        '–' => Some(504),
        _ => at.and_then(|n| table.get(n).copied()),
    };
    Length::from(known.unwrap_or(UNKNOWN))
}

/// Width of a text, in hundredths of a diagram unit.
pub fn width(text: &str, bold: bool) -> Length {
    let thousandths: Length = text.chars().map(|c| advance(c, bold)).sum();
    thousandths * FONT / 1000
}

/// Width of so many figures, in hundredths of a diagram unit.
pub fn figures(count: Length) -> Length {
    count * FIGURE * FIGURE_FONT / 1000
}

/// Breaks a text into lines no wider than `most` where its words allow it.
pub fn wrap(text: &str, most: Length) -> Vec<String> {
    let mut lines: Vec<String> = Vec::new();
    for word in text.split_whitespace() {
        match lines.last_mut() {
            Some(last) if width(last, false) + width(" ", false) + width(word, false) <= most => {
                last.push(' ');
                last.push_str(word);
            }
            _ => lines.push(word.to_owned()),
        }
    }
    lines
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_bold_text_is_wider_and_a_sum_of_its_letters() {
        assert!(width("W8", true) > width("W8", false));
        assert_eq!(width("K3", false), (631 + 576) * FONT / 1000);
        assert_eq!(figures(11), 11 * 480);
    }

    #[test]
    fn words_stay_whole() {
        assert_eq!(wrap("Reduced power lamp", 4800), ["Reduced", "power lamp"]);
        assert_eq!(wrap("Electromagnetically", 100), ["Electromagnetically"]);
        assert!(wrap("", 100).is_empty());
    }
}
