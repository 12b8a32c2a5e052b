//! What rides on the current of generators, and the sources that it meets.

use cimento_model::circuit::{Circuit, Place};
use cimento_model::part::{Look, Riding, Ripple};
use cimento_model::stamped::ElementTag;

/// The generators that ripple as the machine stands, and what each source takes on the mean.
#[derive(Debug, Clone, Default)]
pub(super) struct Rippling {
    /// By the position of the part.
    pub generators: Vec<(usize, Ripple)>,
    /// By the position of the part, in amperes.
    sources: Vec<(usize, f64)>,
}

impl Rippling {
    /// Of parts that look at what the machine has settled to; none while no generator sends anything.
    pub fn of<'a>(circuit: &Circuit, look: impl Fn(usize) -> Option<Look<'a>>) -> Self {
        let parts = || circuit.parts.iter().enumerate();
        let generators: Vec<(usize, Ripple)> = parts()
            .filter(|(_, p)| p.kind.charges())
            .filter_map(|(n, p)| Some((n, p.kind.ripple(&look(n)?)?)))
            .collect();
        if generators.is_empty() {
            return Self::default();
        }
        let taken = |n: usize| {
            let look = look(n)?;
            let own = |tag: &&ElementTag| tag.place == Place::Part(n);
            let tag = look.wiring.tags().iter().find(own)?;
            Some((n, look.op.current(tag.element)))
        };
        let sources = parts().filter(|(_, p)| p.kind.is_source());
        Self {
            generators,
            sources: sources.filter_map(|(n, _)| taken(n)).collect(),
        }
    }

    /// What a part carries in the upper or the lower half of the ripple.
    pub fn in_half(&self, part: usize, up: bool) -> Option<Riding> {
        let sign = if up { 1.0 } else { -1.0 };
        self.carried(part, |r| r.amps * (1.0 + sign * r.share))
    }

    /// What it carries on the mean.
    pub fn on_the_mean(&self, part: usize) -> Option<Riding> {
        self.carried(part, |r| r.amps)
    }

    fn carried(&self, part: usize, sent: impl Fn(&Ripple) -> f64) -> Option<Riding> {
        if let Some((_, ripple)) = self.generators.iter().find(|(n, _)| *n == part) {
            return Some(Riding {
                amps: sent(ripple),
                ripple_a: swing(ripple),
                hz: ripple.hz,
            });
        }
        let (_, amps) = *self.sources.iter().find(|(n, _)| *n == part)?;
        let by_swing =
            |a: &&(usize, Ripple), b: &&(usize, Ripple)| swing(&a.1).total_cmp(&swing(&b.1));
        let (_, strongest) = self.generators.iter().max_by(by_swing)?;
        Some(Riding {
            amps,
            ripple_a: 0.0,
            hz: strongest.hz,
        })
    }
}

fn swing(ripple: &Ripple) -> f64 {
    ripple.amps * ripple.share
}
