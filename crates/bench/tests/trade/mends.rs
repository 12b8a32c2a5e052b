//! What the workshop offers with a finding takes the finding away.

use cimento_bench::{Bench, complaint};
use cimento_model::circuit::{CircuitDoc, Problem};
use cimento_model::part::NoticeKind;
use cimento_parts::build_circuit;
use proptest::prelude::*;

use crate::common::{demo, symptom, tug};

/// Everything that is found in a document, refused or not.
fn found(doc: &CircuitDoc) -> Vec<Problem> {
    match build_circuit(doc.clone()) {
        Ok(circuit) => circuit.warnings.clone(),
        Err(refused) => refused.0,
    }
}

/// The document once everything that is offered with findings has been done, the first offer of each.
fn mended(mut doc: CircuitDoc) -> CircuitDoc {
    for _ in 0..200 {
        let offers = found(&doc)
            .into_iter()
            .find_map(|f| f.mends.into_iter().next());
        let Some(offer) = offers else { return doc };
        offer.mend.apply(&mut doc);
    }
    panic!("mends are offered without end: {:?}", found(&doc));
}

/// Does each of the offers of a finding on its own, which takes that finding away; the words on the buttons.
fn each(doc: &CircuitDoc, about: &str) -> Vec<String> {
    let all = found(doc);
    let finding = all.iter().find(|f| f.message.contains(about));
    let finding = finding.unwrap_or_else(|| panic!("{about} is not among {all:?}"));
    assert!(!finding.mends.is_empty(), "nothing is offered: {finding:?}");
    for offer in &finding.mends {
        let mut doc = doc.clone();
        offer.mend.apply(&mut doc);
        let left = found(&doc);
        let same = left.iter().find(|f| f.message == finding.message);
        assert_eq!(same, None, "{}", offer.say);
    }
    finding.mends.iter().map(|o| o.say.clone()).collect()
}

fn doc() -> CircuitDoc {
    tug().doc.clone()
}

#[test]
fn what_a_wire_lacks_is_given_to_it() {
    let mut bare = doc();
    bare.wires[8].area_mm2 = None;
    assert_eq!(each(&bare, "has no size").len(), 1);
    let mut short = doc();
    short.wires[8].length_m = None;
    assert_eq!(each(&short, "has no length"), ["make W9 1 m long"]);
    let mut both = doc();
    both.wires[8].ohms = Some(0.5);
    let keeps = ["keep the resistance of W9", "keep the size of W9"];
    assert_eq!(each(&both, "has a size and a resistance"), keeps);
    let mut gauge = doc();
    gauge.wires[8].awg = Some(16);
    let keeps = ["keep the mm² of W9", "keep the AWG of W9"];
    assert_eq!(each(&gauge, "both awg and area_mm2"), keeps);
    let mut twice = doc();
    twice.wires[8].id = "W8".to_owned();
    assert_eq!(
        each(&twice, "the id W8 is used twice"),
        ["call the second W8 W9"]
    );
}

/// A wire goes on in the colour that it came in.
#[test]
fn a_colour_goes_on_through_a_connector() {
    let whole = doc();
    let through = |doc: &CircuitDoc| {
        let at = |n: usize, end: &str| {
            doc.wires
                .iter()
                .position(|w| doc.wires[n].color == w.color && (w.from == end || w.to == end))
        };
        (0..doc.wires.len()).find(|n| {
            let to = &doc.wires[*n].to;
            let on = to.strip_suffix('m').map(|c| format!("{c}f"));
            let back = to.strip_suffix('f').map(|c| format!("{c}m"));
            on.or(back).is_some_and(|end| at(*n, &end).is_some())
        })
    };
    let n = through(&whole).unwrap();
    let mut plain = whole.clone();
    plain.wires[n].color = None;
    each(&plain, "has no colour");
    assert_eq!(mended(plain).wires[n].color, whole.wires[n].color);
}

#[test]
fn what_leads_nowhere_is_joined_or_taken_out() {
    let mut spare = doc();
    let crossed = spare.wires.iter().position(|w| w.to.ends_with('m'));
    spare.wires.remove(crossed.unwrap());
    assert_eq!(each(&spare, "a dead end").len(), 1);
    let mut lone = doc();
    lone.splices.insert("SP9".to_owned(), Default::default());
    assert_eq!(each(&lone, "SP9 joins fewer"), ["take SP9 out"]);
    let mut shared = doc();
    let side = shared
        .wires
        .iter()
        .find_map(|w| w.to.ends_with('f').then(|| w.to.clone()));
    let side = side.unwrap();
    let mut second = shared.wires[0].clone();
    second.id = "W90".to_owned();
    second.to = side.clone();
    shared.wires.push(second);
    assert_eq!(
        each(&shared, "share cavity"),
        [format!("join them in a splice before {side}")]
    );
}

/// A lamp that is put down and not wired: fed through a fuse, returned to a ground, and lit.
#[test]
fn a_part_that_is_put_down_is_wired_by_what_is_offered() {
    let mut doc = CircuitDoc::new("Mended");
    assert_eq!(each(&doc, "there is no battery"), ["put in a battery"]);
    let lamp = serde_json::from_str(r#"{"kind": "lamp"}"#).unwrap();
    doc.parts.insert("H1".to_owned(), lamp);
    let doc = mended(doc);
    let circuit = build_circuit(doc).unwrap();
    assert_eq!(circuit.warnings, []);
    assert!(circuit.parts.iter().any(|p| p.kind.kind() == "fuse"));
    let noticed = symptom(&circuit, &[]);
    assert!(noticed.contains("lamp bright"), "{noticed}");
}

/// Whatever is put down, what is offered for it burns nothing, blows nothing and turns no engine.
#[test]
fn no_offer_does_harm() {
    for kind in cimento_parts::ALL {
        let mut doc = CircuitDoc::new("One part");
        for (id, kind) in [("BAT", "battery"), ("X1", kind.kind())] {
            let part = serde_json::json!({ "kind": kind });
            doc.parts
                .insert(id.to_owned(), serde_json::from_value(part).unwrap());
        }
        let Ok(circuit) = build_circuit(mended(doc)) else {
            continue;
        };
        let mut bench = Bench::new(&circuit, &[]).unwrap();
        let does = complaint(&mut bench).unwrap();
        let notices = does.trials.iter().flat_map(|t| &t.notices);
        for notice in notices {
            let harms = matches!(notice.kind, NoticeKind::Blown | NoticeKind::Smoke);
            let turns = notice.text.starts_with("cranks") && kind.kind() != "hand_starter";
            assert!(!harms && !turns, "{}: {}", kind.kind(), notice.text);
        }
    }
}

/// What switches, senses or turns the engine is nobody's to tie to the battery or to metal.
#[test]
fn nothing_is_offered_where_it_could_be_meant_otherwise() {
    for (kind, about, offered) in [
        ("relay", "terminal 86 of", true),
        ("relay", "terminal 85 of", true),
        ("relay", "terminal 87 of", false),
        ("relay", "terminal 30 of", false),
        ("switch", "terminal 1 of", false),
        ("switch", "terminal 2 of", false),
        ("starter", "terminal 50 of", false),
        ("starter", "terminal 30 of", false),
        ("diode", "terminal A of", false),
        ("horn", "terminal 1 of", true),
        ("horn", "terminal 2 of", true),
        ("sender", "terminal G of", false),
        ("ignition_coil", "terminal 15 of", true),
        ("ignition_coil", "terminal 1 of", false),
    ] {
        let mut doc = doc();
        let part = serde_json::json!({ "kind": kind });
        doc.parts
            .insert("X9".to_owned(), serde_json::from_value(part).unwrap());
        let all = found(&doc);
        let finding = all
            .iter()
            .find(|f| f.message == format!("{about} X9 is not wired"));
        let finding = finding.unwrap_or_else(|| panic!("{kind}, {about}: {all:?}"));
        assert_eq!(!finding.mends.is_empty(), offered, "{kind}: {finding:?}");
    }
}

#[test]
fn what_a_wire_ends_at_is_made() {
    for (end, say) in [
        ("SP77", "make splice SP77"),
        ("G77", "make ground G77"),
        ("C77.3f", "make cavity 3 of C77"),
    ] {
        let mut doc = doc();
        doc.wires[3].to = end.to_owned();
        let about = end.split('.').next().unwrap();
        assert_eq!(each(&doc, about), [say]);
    }
    // What a name says nothing of is nobody's to make.
    let mut typed = doc();
    typed.wires[3].to = "BAT.plus".to_owned();
    let refused = found(&typed);
    assert!(refused.iter().all(|f| f.mends.is_empty()), "{refused:?}");
}

#[test]
fn a_bridge_is_taken_out_and_an_engine_is_turned() {
    let mut bridged = doc();
    let mut strap = bridged.wires[0].clone();
    let battery = tug().positive_name().to_owned();
    strap.id = "W90".to_owned();
    strap.from.clone_from(&battery);
    strap.to = battery.replace('+', "-");
    bridged.wires.push(strap);
    assert_eq!(each(&bridged, "is bridged"), ["take W90 out"]);
    let mut still = demo("fire-pump-ignition").doc.clone();
    still.parts.retain(|_, p| p.kind != "hand_starter");
    let words = each(&still, "nothing turns the engine");
    assert_eq!(words, ["put in a starter", "put in a hand starter"]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// However a circuit was damaged, doing what is offered comes to an end, and never makes a circuit that could be used
    /// into one that cannot.
    #[test]
    fn doing_what_is_offered_comes_to_an_end(
        gone in prop::collection::vec(any::<prop::sample::Index>(), 0..4),
        bare in prop::collection::vec((any::<prop::sample::Index>(), 0..4_u8), 0..6),
    ) {
        let mut doc = doc();
        for (wire, what) in bare {
            let wire = wire.get_mut(&mut doc.wires);
            match what {
                0 => wire.area_mm2 = None,
                1 => wire.length_m = None,
                2 => wire.color = None,
                _ => wire.ohms = Some(0.2),
            }
        }
        for wire in gone {
            let n = wire.index(doc.wires.len());
            doc.wires.remove(n);
        }
        let usable = build_circuit(doc.clone()).is_ok();
        let doc = mended(doc);
        prop_assert!(!usable || build_circuit(doc).is_ok());
    }
}
