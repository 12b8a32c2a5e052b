//! Blade fuse, fusible link and circuit breaker: a small resistance that opens by a time-current
//! curve.

use cimento_model::circuit::SeverityUnit;
use cimento_model::faults::{ModeSpec, graded, graded_in, mode};
use cimento_model::part::number;
use cimento_model::part::{
    Change, Context, Look, Notice, NoticeKind, ParamSpec, Params, PartKind, Shelf, Stamp, Terminal,
    terminal,
};

/// What a close look at one that has gone shows.
pub const MELTED: &str = "the element has melted";

/// Blown, as [`super::PartState::level`].
const BLOWN: u64 = 1;

/// Multiple of the rating and time to open in seconds. Source: ISO 8820-3 (from memory); the
/// geometric middle of the standard's band at each multiple. Below the first it holds for ever.
const CURVE: [(f64, f64); 6] = [
    (1.1, 360_000.0),
    (1.35, 21.2),
    (1.6, 3.54),
    (2.0, 0.866),
    (3.5, 0.2),
    (6.0, 0.0548),
];

/// Cold resistance by rating, A and Ω; common practice.
const COLD: [(f64, f64); 4] = [(5.0, 0.017), (10.0, 0.0075), (20.0, 0.0032), (30.0, 0.002)];

/// A straight line through two points on logarithmic axes.
fn log_line((x0, y0): (f64, f64), (x1, y1): (f64, f64), x: f64) -> f64 {
    let slope = (y1 / y0).ln() / (x1 / x0).ln();
    y0 * (slope * (x / x0).ln()).exp()
}

fn log_table(table: &[(f64, f64)], x: f64) -> f64 {
    let last = table.len() - 1;
    let at = table[1..last]
        .iter()
        .take_while(|(end, _)| x > *end)
        .count();
    log_line(table[at], table[at + 1], x)
}

/// Seconds until a fuse opens at a multiple of its rating; infinite when it holds.
pub fn opening_s(multiple: f64) -> f64 {
    let (first, last) = (CURVE[0], CURVE[CURVE.len() - 1]);
    if multiple < first.0 {
        f64::INFINITY
    } else if multiple > last.0 {
        // Melting without loss of heat: the time falls with the square of the current.
        last.1 * (last.0 / multiple).powi(2)
    } else {
        log_table(&CURVE, multiple)
    }
}

/// Cold resistance of a blade fuse by rating in amperes, in ohms.
pub fn fuse_ohms(rating_a: f64) -> f64 {
    log_table(&COLD, rating_a)
}

/// A kind of protection that opens by a time-current curve.
pub(super) struct Fuse {
    kind: &'static str,
    title: &'static str,
    /// How many times as long as a blade fuse it takes.
    slower: f64,
    /// Seconds after which it closes again by itself.
    resets_s: Option<f64>,
    modes: &'static [ModeSpec],
}

/// Severity of a wrong fuse: the rating that was fitted.
const WRONG_A: (f64, f64, f64) = (1.0, 30.0, 100.0);

const FAILURES: &[ModeSpec] = &[
    mode("blown", "element melted, no short left", 2.0).seen(MELTED),
    graded(
        "high_resistance",
        "poor clip or cracked element",
        1.0,
        (0.05, 2.0, 1e5),
    ),
    graded_in(
        SeverityUnit::Ampere,
        "wrong_rating",
        "wrong fuse fitted, its rating in amperes",
        0.5,
        WRONG_A,
    )
    .seen("the fuse is not of the rating on the cover"),
];

/// Blade fuse.
pub(super) static BLADE: Fuse = Fuse {
    kind: "fuse",
    title: "Fuse",
    slower: 1.0,
    resets_s: None,
    modes: FAILURES,
};

/// A short piece of thinner wire near the battery; slower than a blade fuse (common practice).
pub(super) static FUSIBLE_LINK: Fuse = Fuse {
    kind: "fusible_link",
    title: "Fusible link",
    slower: 5.0,
    resets_s: None,
    modes: FAILURES,
};

/// Bimetal breaker that closes again when it has cooled (common practice: some seconds).
pub(super) static BREAKER: Fuse = Fuse {
    kind: "circuit_breaker",
    title: "Circuit breaker",
    slower: 2.0,
    resets_s: Some(6.0),
    modes: &[
        mode("blown", "never closes", 1.0).seen(MELTED),
        graded("high_resistance", "contact burnt", 2.0, (0.05, 2.0, 1e5)),
    ],
};

impl Fuse {
    /// Rating of what is fitted, in amperes.
    fn rating_a(c: &Context<'_>) -> f64 {
        c.fault("wrong_rating")
            .unwrap_or_else(|| c.param("rating_a"))
    }
}

impl PartKind for Fuse {
    fn kind(&self) -> &'static str {
        self.kind
    }

    fn title(&self) -> &'static str {
        self.title
    }

    fn shelf(&self) -> Shelf {
        Shelf::Protection
    }

    fn letters(&self) -> &'static str {
        "F"
    }

    fn terminals(&self) -> &'static [Terminal] {
        const {
            &[
                terminal("1", "fuse top, feed side", true),
                terminal("2", "fuse top, load side", false),
            ]
        }
    }

    fn params(&self) -> &'static [ParamSpec] {
        const { &[number("rating_a", "rated current", "A", (1.0, 15.0, 500.0))] }
    }

    fn modes(&self) -> &'static [ModeSpec] {
        self.modes
    }

    fn contacts(&self, _: &Params) -> Vec<(usize, usize)> {
        vec![(0, 1)]
    }

    fn plugs_in(&self) -> bool {
        self.kind == "fuse"
    }

    fn is_fuse(&self) -> bool {
        true
    }

    fn rating(&self, params: &Params) -> String {
        format!("{:.0} A", params.number("rating_a"))
    }

    fn stamp(&self, s: &mut Stamp<'_>) {
        let closed = s.state.level != BLOWN;
        let healthy = fuse_ohms(Self::rating_a(s));
        let ohms = s.contact_ohms(closed, healthy, "blown", "high_resistance");
        s.contact("element", (0, 1), ohms);
    }

    fn next(&self, look: &Look<'_>) -> Option<Change> {
        if look.state.level == BLOWN {
            return self.resets_s.map(|after_s| Change {
                after_s,
                level: 0,
                wear_per_s: 0.0,
            });
        }
        let whole_s = self.slower * opening_s(look.current("element").abs() / Self::rating_a(look));
        whole_s.is_finite().then(|| Change {
            after_s: whole_s * (1.0 - look.state.wear).max(0.0),
            level: BLOWN,
            wear_per_s: 1.0 / whole_s,
        })
    }

    fn notice(&self, looks: &[Look<'_>]) -> Option<Notice> {
        let blown = |l: &Look<'_>| l.state.level == BLOWN || l.fault("blown").is_some();
        let last = looks.last()?;
        // A breaker that has reset shows nothing.
        blown(last).then(|| Notice {
            kind: NoticeKind::Blown,
            part: last.part.id.clone(),
            text: format!("{} is blown", last.part.id),
            sign: "blown".to_owned(),
            hidden: true,
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    /// ISO 8820-3 (from memory): least and most time to open at multiples of the rating.
    #[test]
    fn opens_inside_the_standards_band() {
        for (multiple, least, most) in [
            (1.35, 0.75, 600.0),
            (1.6, 0.25, 50.0),
            (2.0, 0.15, 5.0),
            (3.5, 0.08, 0.5),
            (6.0, 0.03, 0.1),
        ] {
            let t = opening_s(multiple);
            assert!(t >= least && t <= most, "{multiple} gives {t} s");
        }
        assert!(opening_s(1.1) >= 360_000.0 * 0.999);
        assert!(opening_s(1.0).is_infinite());
    }

    /// Common practice: 5 A about 17 mΩ, 10 A 7.5, 20 A 3.2, 30 A 2.
    #[test]
    fn cold_resistance_follows_practice() {
        for (rating, ohms) in [(5.0, 0.017), (10.0, 0.0075), (20.0, 0.0032), (30.0, 0.002)] {
            assert!((fuse_ohms(rating) - ohms).abs() < 1e-9);
        }
        assert!(fuse_ohms(15.0) < 0.0075 && fuse_ohms(15.0) > 0.0032);
    }
}
