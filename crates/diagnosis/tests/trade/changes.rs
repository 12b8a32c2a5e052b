//! What an answer carries of a bench: the changes since the steps one knows of, put together one after the
//! other, are the whole view, and how much they are does not grow with what was done before.

use cimento_diagnosis::attempt::{BenchView, Session};

use crate::recorded::records;

/// The lines of a list with those that changed in their place.
fn merge<T: Clone>(old: &mut Vec<T>, changed: Vec<T>, step: impl Fn(&T) -> usize) {
    for line in changed {
        match old.iter().position(|o| step(o) == step(&line)) {
            Some(at) => old[at] = line,
            None => old.push(line),
        }
    }
}

/// As the page does it.
fn changed(mut old: BenchView, mut new: BenchView) -> BenchView {
    merge(&mut old.ledger, std::mem::take(&mut new.ledger), |l| l.step);
    merge(&mut old.captures, std::mem::take(&mut new.captures), |c| {
        c.step
    });
    let first = old.captures.len().saturating_sub(4);
    old.captures.drain(..first);
    old.repairs.append(&mut new.repairs);
    old.hints.append(&mut new.hints);
    old.notes.append(&mut new.notes);
    old.seen.append(&mut new.seen);
    BenchView {
        ledger: old.ledger,
        captures: old.captures,
        repairs: old.repairs,
        hints: old.hints,
        notes: old.notes,
        seen: old.seen,
        tried: new.tried.or(old.tried),
        ..new
    }
}

/// Whether one asks after every step or, with an answer lost now and then, after several.
#[test]
fn changes_put_together_are_the_whole_view() {
    for (_, script) in records().into_iter().step_by(3) {
        let lesson = script.lesson();
        let mut session = Session::start(&lesson);
        let mut known = [session.view(), session.view()];
        for (n, action) in script.actions.into_iter().enumerate() {
            if session.act(action).is_err() {
                continue;
            }
            for (every, known) in [1, 3].into_iter().zip(&mut known) {
                if n % every == 0 {
                    let changes = session.changes(known.steps);
                    *known = changed(std::mem::take(known), changes);
                }
            }
            assert_eq!(known[0], session.view());
        }
        let [_, known] = known;
        let changes = session.changes(known.steps);
        assert_eq!(changed(known, changes), session.view());
    }
}
