//! The lesson maker: what it proposes is what was wished for, can be given as it is, and is not proposed again.

use std::sync::Arc;

use cimento_diagnosis::course::{Wish, propose};
use cimento_diagnosis::lesson::{Lesson, LessonDoc, Skill, contradictions};
use cimento_diagnosis::suspects::{Band, Progress};
use cimento_model::faults::FaultDoc;

use crate::common;

fn wish(skills: &[Skill], least: f64, most: f64, not: &[FaultDoc]) -> Wish {
    Wish {
        skills: skills.to_vec(),
        band: Band {
            least_minutes: least,
            most_minutes: most,
        },
        not: not.to_vec(),
        seed: 7,
    }
}

#[test]
fn what_is_proposed_is_what_was_wished_for() {
    let circuit = common::demo("sweeper-lamps");
    let base = LessonDoc {
        predictions: true,
        ..LessonDoc::of("Lamps", circuit.doc.clone(), Vec::new())
    };
    let progress = Arc::<Progress>::default();
    let skills = [Skill::SupplyDropGround, Skill::Interlocks];
    let first = wish(&skills, 3.0, 40.0, &[]);
    let found = propose(&base, &first, &progress, |n| n < 2).unwrap();
    assert_eq!(found.found.len(), 2, "of {} tried", found.tried);
    assert!(found.tried <= found.of);
    let mut seen = Vec::new();
    for one in &found.found {
        let minutes = one.proof.minutes;
        assert!((3.0..=40.0).contains(&minutes), "{}: {minutes}", one.text);
        assert!(one.proof.hinders.is_empty());
        // What a plan can show it shows; what it cannot is declared.
        let practised = |skill| one.proof.skills.iter().find(|p| p.skill == skill).unwrap();
        assert!(practised(Skill::SupplyDropGround).shown);
        assert!(!practised(Skill::Interlocks).shown);
        let lesson = Lesson::new(LessonDoc {
            faults: vec![one.fault.clone()],
            ..base.clone()
        });
        let lesson = lesson.unwrap();
        assert!(!one.complaint.is_empty(), "{}", one.text);
        let against = contradictions(&one.complaint, &lesson.symptom);
        assert!(against.is_empty(), "{}: {against:?}", one.complaint);
        seen.push(one.fault.clone());
    }
    // The same wish finds the same, and others once those are known.
    let again = propose(&base, &first, &progress, |n| n < 2).unwrap();
    assert_eq!(again.found, found.found);
    let others = propose(&base, &wish(&skills, 3.0, 40.0, &seen), &progress, |n| {
        n < 1
    })
    .unwrap();
    assert!(others.found.iter().all(|o| !seen.contains(&o.fault)));
}

#[test]
fn a_wish_that_nothing_meets_ends_with_what_was_tried() {
    let circuit = common::demo("sweeper-lamps");
    let base = LessonDoc::of("Lamps", circuit.doc.clone(), Vec::new());
    let progress = Arc::<Progress>::default();
    let never = wish(&[], 500.0, 600.0, &[]);
    let tries = std::cell::Cell::new(0);
    let few = |_| {
        tries.set(tries.get() + 1);
        tries.get() <= 5
    };
    let found = propose(&base, &never, &progress, few).unwrap();
    assert_eq!((found.found.len(), found.tried), (0, 5));
    // Who does not wait any more is not worked for.
    progress.give_up();
    assert!(propose(&base, &never, &progress, |_| true).is_err());
}
