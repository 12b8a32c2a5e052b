//! A motor with a fan: its balance is that of two lines.

use serde_json::json;

use super::{across, near, signs};
use crate::common::{number, with};
use cimento_bench::instruments::Function;

const PARAMS: [f64; 4] = [0.35, 0.03, 0.02, 0.0008];

fn blower() -> std::sync::Arc<cimento_model::circuit::Circuit> {
    let [armature, k, friction, drag] = PARAMS;
    let params = json!({ "armature_ohms": armature, "v_s_per_rad": k, "static_nm": friction, "viscous_nm_s": drag });
    across("M1", json!({ "kind": "blower", "params": params }))
}

/// `w = (k·V/R − T₀) / (b + k²/R)` and `i = (V − k·w)/R`.
#[test]
fn it_turns_where_its_two_lines_meet() {
    let [r, k, t, b] = PARAMS;
    let r = r + 2.0 * super::WIRE_OHMS;
    let w = (k * 12.6 / r - t) / (b + k * k / r);
    let amps = number(&with(&blower(), &[], &[]), Function::CLAMP_AMPS, "W1", "");
    assert!(near(amps, (12.6 - k * w) / r, 0.03), "{amps}");
}

/// Seized it draws what its armature lets through: 36 A.
#[test]
fn seized_it_draws_its_locked_current_and_open_nothing() {
    let seized = with(&blower(), &["M1:seized"], &[]);
    let amps = number(&seized, Function::CLAMP_AMPS, "W1", "");
    assert!(near(amps, 12.6 / 0.352, 0.03), "{amps}");
    let open = with(&blower(), &["M1:brushes_open"], &[]);
    assert!(number(&open, Function::CLAMP_AMPS, "W1", "").abs() < 0.05);
    let sound = signs(&with(&blower(), &[], &[]), "M1");
    assert_ne!(signs(&seized, "M1"), sound);
    assert_eq!(signs(&open, "M1"), signs(&seized, "M1"));
}

/// A resistance in its feed makes it slower, not weaker in proportion.
#[test]
fn it_slows_behind_a_resistance() {
    let slow = with(&blower(), &["W1:high_resistance=1"], &[]);
    let [r, k, t, b] = PARAMS;
    let r = r + 1.0 + 2.0 * super::WIRE_OHMS;
    let w = (k * 12.6 / r - t) / (b + k * k / r);
    let amps = number(&slow, Function::CLAMP_AMPS, "W1", "");
    assert!(near(amps, (12.6 - k * w) / r, 0.03), "{amps}");
}
