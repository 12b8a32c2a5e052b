//! The customer's words beside what the machine does.

use cimento_bench::Complaint;
use cimento_model::part::NoticeKind;

/// What customers say of a starter, with the signs that agree with it. Longer words come first: "does
/// not crank" holds "crank".
const STARTER: [(&str, &[&str]); 17] = [
    ("no sound", &["silent"]),
    ("nothing happens", &["silent"]),
    ("not a click", &["silent"]),
    ("no click", &["silent"]),
    ("one click", &["click"]),
    ("single click", &["click"]),
    ("rapid", &["chatter"]),
    ("chatter", &["chatter"]),
    ("not crank", &["silent", "click", "chatter"]),
    ("no crank", &["silent", "click", "chatter"]),
    ("not turn", &["silent", "click", "chatter"]),
    ("won't turn", &["silent", "click", "chatter"]),
    ("slow", &["slow", "slower"]),
    ("uneven", &["limps"]),
    ("turns over", &["cranks", "slow", "slower", "limps"]),
    ("cranks", &["cranks", "slow", "slower", "limps"]),
    ("click", &["click", "chatter"]),
];
/// The same of a lamp that is named.
const LAMP: [(&str, &[&str]); 6] = [
    ("dark", &["dark"]),
    ("dim", &["dim"]),
    ("bright", &["bright"]),
    ("flicker", &["flickers"]),
    ("is on", &["bright", "dim"]),
    ("is off", &["dark"]),
];

/// Where the customer's words contradict what the machine does, a sentence about each.
pub fn contradictions(words: &str, complaint: &Complaint) -> Vec<String> {
    let words = words.to_lowercase();
    let mut out = Vec::new();
    // With the key off everything is dark and still, which nobody complains of.
    let on = complaint
        .while_worked()
        .filter(|t| !["off", "acc"].contains(&t.label.as_str()));
    let all = on.flat_map(|t| &t.notices);
    let all: Vec<_> = all.filter(|n| !n.hidden).collect();
    // A relay may click or chatter as well, and whoever only says so does not say which it is.
    let by_another = |said: &str| {
        ["click", "chatter"].contains(&said) && all.iter().any(|n| n.text.contains(said))
    };
    // A starter says most while it is asked to turn: the last that is noticed of it.
    if let Some(last) = all.iter().rfind(|n| n.kind == NoticeKind::Cranking)
        && let Some((said, signs)) = STARTER.iter().find(|(said, _)| words.contains(said))
        && !signs.contains(&last.sign.as_str())
        && !by_another(said)
    {
        out.push(format!(
            "The words say “{said}”, but the machine: {}.",
            last.text
        ));
    }
    for lamp in all.iter().filter(|n| n.kind == NoticeKind::Light) {
        let name = lamp.text.trim_end_matches(&lamp.sign).trim();
        let Some(at) = words.find(name) else { continue };
        // What is said of a lamp follows its name in the same clause.
        let clause = words[at + name.len()..].split([',', '.', ';']).next();
        let said = LAMP
            .iter()
            .find(|(said, _)| clause.is_some_and(|c| c.contains(said)));
        let ever = |signs: &[&str]| {
            let mut same = all.iter().filter(|n| n.part == lamp.part);
            same.any(|n| signs.contains(&n.sign.as_str()))
        };
        if let Some((said, signs)) = said
            && !ever(signs)
        {
            let text = format!(
                "The words say “{said}” of the {name}, but it is {}.",
                lamp.sign
            );
            if !out.contains(&text) {
                out.push(text);
            }
        }
    }
    out
}
