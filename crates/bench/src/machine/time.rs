//! A machine looked at in time: what turns with the crankshaft moves, and voltages are followed from
//! instant to instant.

use std::collections::HashMap;
use std::ops::ControlFlow;
use std::sync::Arc;

use cimento_solver::{Node, Solution, Start, Transient};

use super::firing::LIGHTS_J;
use super::rippling::Rippling;
use super::wiring::{Half, turning_rpm, wire_up};
use super::{Bench, BenchError, named, settle};
use cimento_model::circuit::Place;
use cimento_model::part::Turning;
use cimento_model::stamped::StampedNetlist;
use cimento_model::state::{Engine, OperatingState};
use cimento_model::strokes::Strokes;

/// Where the crankshaft stands at the start, in degrees after cylinder 1 has fired: no coil is charged.
pub const FROM_DEG: f64 = 20.0;
/// Error allowed in a step, as a share of what is stored, and how closely a switch's instant is found,
/// in seconds: of a screen, and where only the sparks count.
const FINE: (f64, f64) = (2e-3, 20e-9);
pub(super) const COARSE: (f64, f64) = (0.15, 0.5e-6);
/// Steps are at most this share of a turn of the crankshaft.
const SHARE_OF_TURN: f64 = 0.01;
/// And this share of a hump of a generator's ripple.
const SHARE_OF_HUMP: f64 = 1.0 / 16.0;
/// Density of the gas at a fitted plug as it fires, beside open air: pulled through by the starter with
/// the throttle open, throttled at idle, unthrottled but quick, and under full load; common practice.
const CRANKING: f64 = 4.0;
const IDLING: f64 = 2.5;
const FAST: f64 = 3.0;
const LOADED: f64 = 5.2;
const FAST_FROM_RPM: f64 = 1600.0;
/// Turns in which everything has come to its highest.
pub const PEAK_TURNS: f64 = 2.0;
/// Density of hot burnt gas that leaves an engine, beside open air; common practice.
const SPENT: f64 = 0.5;

/// A stretch of time that is looked at.
pub(super) struct Window {
    pub from_deg: f64,
    pub until_s: f64,
    pub accuracy: (f64, f64),
}

/// A spark at a plug.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Spark {
    /// The part, by position.
    pub part: usize,
    pub at_s: f64,
    /// Volts between the electrodes just before it broke down.
    pub volts: f64,
    /// Time that the arc burnt, in seconds, and what it turned to heat, in joules.
    pub burns_s: f64,
    pub joules: f64,
}

impl Spark {
    /// Whether it lights a mixture.
    pub fn lights(&self) -> bool {
        self.joules >= LIGHTS_J
    }
}

/// The nodes of a machine that one looks at.
pub(super) type LookedAt<'a> = &'a dyn Fn(&StampedNetlist) -> Vec<Node>;

impl Bench {
    /// Speed of the crankshaft in the present state, in revolutions per minute.
    pub fn rpm(&self) -> f64 {
        turning_rpm(&self.circuit, &self.state, &self.parts)
    }

    /// So many turns of the crankshaft from where looks begin.
    fn window(&self, turns: f64, accuracy: (f64, f64)) -> Window {
        Window {
            from_deg: FROM_DEG,
            until_s: turns * 60.0 / self.rpm(),
            accuracy,
        }
    }

    /// Follows the machine for `turns` turns of the crankshaft or until told to stop, with something
    /// attached, and shows every instant; false while nothing turns.
    ///
    /// # Errors
    /// [`BenchError`] at an instant that has no solution.
    pub fn in_time(
        &self,
        turns: f64,
        attach: &dyn Fn(&mut StampedNetlist),
        observe: &mut dyn FnMut(f64, &StampedNetlist, &Solution) -> ControlFlow<()>,
    ) -> Result<bool, BenchError> {
        self.follow(self.window(turns, FINE), attach, None, observe)
    }

    /// The same, as finely as it takes to see whether a plug sparks.
    ///
    /// # Errors
    /// As [`Bench::in_time`].
    pub(crate) fn in_time_coarsely(
        &self,
        turns: f64,
        observe: &mut dyn FnMut(f64, &StampedNetlist, &Solution) -> ControlFlow<()>,
    ) -> Result<bool, BenchError> {
        self.follow(self.window(turns, COARSE), &|_| (), None, observe)
    }

    /// What rides on the currents of generators.
    fn rippling(&self) -> Rippling {
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        Rippling::of(&self.circuit, |n| self.looking(&self.settled, &active, n))
    }

    /// Steps are a share of a turn, and short enough to follow what rides on a current.
    fn longest_step_s(&self) -> f64 {
        let turn_s = 60.0 / self.rpm();
        let rippling = self.rippling();
        let humps = rippling.generators.iter().map(|(_, r)| r.humps_hz);
        let shares = humps.map(|hz| SHARE_OF_HUMP / hz);
        shares.fold(turn_s * SHARE_OF_TURN, f64::min)
    }

    pub(super) fn follow(
        &self,
        window: Window,
        attach: &dyn Fn(&mut StampedNetlist),
        looked_at: Option<LookedAt<'_>>,
        observe: &mut dyn FnMut(f64, &StampedNetlist, &Solution) -> ControlFlow<()>,
    ) -> Result<bool, BenchError> {
        let Some((wiring, op)) = self.in_motion(&window, attach)? else {
            return Ok(false);
        };
        let settings = Transient {
            until_s: window.until_s,
            step_s: self.longest_step_s(),
            tolerance: window.accuracy.0,
            event_s: window.accuracy.1,
        };
        let start = Start::from(&wiring.net, &op);
        let mut show = |at_s: f64, now: &Solution| observe(at_s, &wiring, now);
        let nodes = looked_at.map(|looked_at| looked_at(&wiring));
        settings
            .run_at(
                &wiring.net,
                &wiring.motion,
                (&op, &start),
                nodes.as_deref(),
                self.shared.spares(),
                &mut show,
            )
            .map_err(|e| named(&self.circuit, &wiring, e))?;
        Ok(true)
    }

    /// The highest volts of either sign that each node of the circuit comes to over two turns, by its number;
    /// none while nothing turns. They are worked out once for what the machine has settled to.
    ///
    /// # Errors
    /// As [`Bench::in_time`].
    pub(crate) fn peaks(&self) -> Result<Option<Arc<Vec<f64>>>, BenchError> {
        if let Some(known) = self.peaks.get() {
            return Ok(known.clone());
        }
        let mut most = vec![0.0_f64; self.circuit.nodes.len()];
        let turned = self.in_time(PEAK_TURNS, &|_| (), &mut |_, wiring, now| {
            for (node, most) in most.iter_mut().enumerate() {
                *most = most.max(now.voltage(wiring.node(node)).abs());
            }
            ControlFlow::Continue(())
        })?;
        let known = turned.then(|| Arc::new(most));
        Ok(self.peaks.get_or_init(|| known).clone())
    }

    /// What a look of so many turns would begin with: the machine with all that moves in it, and its
    /// operating point; none while nothing turns.
    pub(crate) fn moving(
        &self,
        turns: f64,
    ) -> Result<Option<(StampedNetlist, Solution)>, BenchError> {
        self.in_motion(&self.window(turns, FINE), &|_| ())
    }

    fn in_motion(
        &self,
        window: &Window,
        attach: &dyn Fn(&mut StampedNetlist),
    ) -> Result<Option<(StampedNetlist, Solution)>, BenchError> {
        let rpm = self.rpm();
        if rpm <= 0.0 {
            return Ok(None);
        }
        let strokes = Strokes::of(&self.circuit);
        let (compression_density, exhaust_density) = densities(&self.state);
        let turning = Turning {
            rpm,
            from_deg: window.from_deg,
            until_s: window.until_s,
            compression: self.compression(&strokes),
            strokes,
            compression_density,
            exhaust_density,
        };
        let active = settle::active(&self.circuit, &self.faults, &self.state);
        // What a generator sends on the mean it goes on sending, with its ripple on it.
        let rippling = self.rippling();
        let half = |part: usize| Half {
            up: true,
            riding: rippling.on_the_mean(part),
        };
        let mut wiring = wire_up(
            &self.circuit,
            &active,
            &self.state,
            &self.parts,
            &|_| false,
            &half,
            Some(&turning),
        );
        attach(&mut wiring);
        let op = self.shared.solver().operating_point(&wiring.net);
        let op = op.map_err(|e| named(&self.circuit, &wiring, e))?;
        Ok(Some((wiring, op)))
    }

    /// How well each cylinder squeezes its gas, in the order of firing.
    pub(super) fn compression(&self, strokes: &Strokes) -> Vec<f64> {
        let parts = self.circuit.parts.iter().enumerate();
        let engines = parts.filter_map(|(n, part)| {
            let engine = part.kind.mechanics()?;
            self.look(n, |look| engine.compression(&look.context))
        });
        let whole = engines.fold(1.0, f64::min);
        let mut out = vec![whole; strokes.cylinders];
        for (n, part) in self.circuit.parts.iter().enumerate() {
            if let Some(cylinder) = part.kind.cylinder(&part.params) {
                let place = strokes.place(cylinder.number);
                out[place] = whole
                    * match self.state.is_apart(&self.circuit, Place::Part(n)) {
                        true => 0.0,
                        false => self
                            .look(n, |look| part.kind.compression(&look.context))
                            .unwrap_or(1.0),
                    };
            }
        }
        out
    }

    /// The plugs that are fitted to the machine, by the position of the part.
    pub(super) fn plugs(&self) -> Vec<usize> {
        (0..self.circuit.parts.len())
            .filter(|&n| self.circuit.parts[n].kind.sparks())
            .filter(|&n| !self.state.is_apart(&self.circuit, Place::Part(n)))
            .collect()
    }

    /// The sparks of two turns, in order.
    ///
    /// # Errors
    /// As [`Bench::in_time`].
    pub fn sparks(&self) -> Result<Vec<Spark>, BenchError> {
        let mut burning: HashMap<usize, Spark> = HashMap::new();
        let mut last: HashMap<usize, (f64, f64)> = HashMap::new();
        let mut sparks: Vec<Spark> = Vec::new();
        let plugs = self.plugs();
        let mut before_s = 0.0;
        self.in_time(2.0, &|_| (), &mut |at_s, wiring, now| {
            for &part in &plugs {
                let Some(line) = wiring.tagged(Place::Part(part), "gap") else {
                    continue;
                };
                let (a, b) = wiring.net.element(line.element).nodes();
                let (v, i) = (now.between(a, b), now.current(line.element));
                let (v0, i0) = last.insert(part, (v, i)).unwrap_or((0.0, 0.0));
                if i != 0.0 {
                    let spark = burning.entry(part).or_insert(Spark {
                        part,
                        at_s,
                        volts: v0,
                        burns_s: 0.0,
                        joules: 0.0,
                    });
                    let h = at_s - before_s;
                    spark.burns_s += h;
                    spark.joules += h * f64::midpoint(v * i, v0 * i0);
                } else if let Some(spark) = burning.remove(&part) {
                    sparks.push(spark);
                }
            }
            before_s = at_s;
            ControlFlow::Continue(())
        })?;
        sparks.extend(burning.into_values());
        sparks.sort_by(|a, b| a.at_s.total_cmp(&b.at_s));
        Ok(sparks)
    }
}

/// Density of the gas in a cylinder as it fires, and over its exhaust and intake.
fn densities(state: &OperatingState) -> (f64, f64) {
    match state.engine {
        Engine::Stopped => (CRANKING, 1.0),
        Engine::Running if state.engine_loaded => (LOADED, SPENT),
        Engine::Running if state.rpm() >= FAST_FROM_RPM => (FAST, SPENT),
        Engine::Running => (IDLING, SPENT),
    }
}
