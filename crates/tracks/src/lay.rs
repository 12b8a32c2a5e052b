//! What stands where along each track.

use std::collections::HashMap;

use crate::Length;
use crate::cost::Costing;
use crate::geometry::BRACKET;
use crate::pieces::{Kind, TAG};
use crate::plan::{HubKind, What};
use crate::sheet::{CLEAR, OVER_BAR, Sheet, items};

/// A stretch of a track: a thing on it, or room that is kept free.
#[derive(Debug, Clone)]
pub struct Stretch {
    /// The thing, by its number on the track.
    pub item: Option<usize>,
    least: Length,
    /// It takes of what is left over.
    gives: bool,
    /// Its middle is held here.
    pub held: Option<Length>,
    pub from: Length,
    pub to: Length,
}

impl Stretch {
    fn free(least: Length) -> Self {
        Self {
            item: None,
            least,
            gives: false,
            held: None,
            from: 0,
            to: 0,
        }
    }

    pub fn middle(&self) -> Length {
        (self.from + self.to) / 2
    }
}

/// A piece with its stretches from above.
#[derive(Debug, Clone)]
pub struct Laid {
    /// The piece, by number.
    pub piece: usize,
    pub from: Length,
    pub to: Length,
    pub stretches: Vec<Stretch>,
}

/// Cavities of one connector at one height.
#[derive(Debug, Clone)]
pub struct Row {
    pub connector: String,
    pub y: Length,
    /// Their columns, from the left.
    pub columns: Vec<usize>,
    /// From the track of one to the end of its name.
    pub name: Length,
}

/// Lays out everything along the tracks.
pub fn lay(costing: &Costing<'_, '_>, sheet: &Sheet) -> (Vec<Laid>, Vec<Row>) {
    let mut laid: Vec<Laid> = (0..sheet.pieces.len())
        .filter_map(|n| one(costing, sheet, n))
        .collect();
    laid.iter_mut().for_each(Laid::spread);
    let rows = rows(costing, sheet, &mut laid);
    (laid, rows)
}

fn one(costing: &Costing<'_, '_>, sheet: &Sheet, n: usize) -> Option<Laid> {
    let plan = costing.plan;
    let piece = &sheet.pieces[n];
    let track = match piece.kind {
        Kind::Foot(_) | Kind::Jumper | Kind::Perch => return None,
        Kind::Whole | Kind::Half { .. } | Kind::Case => &plan.tracks[piece.track],
    };
    let stub = piece.is_stub();
    let (from, to) = if stub {
        sheet.stub_span(costing, n)
    } else {
        sheet.span(costing, piece)
    };
    if piece.kind == Kind::Case {
        return Some(Laid {
            piece: n,
            from,
            to: from + 1200,
            stretches: Vec::new(),
        });
    }
    let (from, to) = match piece.kind {
        Kind::Half { .. } if piece.upper.is_some() => (from, to - TAG),
        Kind::Half { .. } => (from + TAG, to),
        _ => (from, to),
    };
    let flat = costing.flat(piece.track);
    let stretch = |k: usize| {
        let item = &track.items[k];
        Stretch {
            item: Some(k),
            least: match item.what {
                What::Link => 200,
                _ if flat => item.height_flat,
                _ => item.height,
            },
            gives: matches!(item.what, What::Wire(_) | What::Mount(_) | What::Link),
            ..Stretch::free(0)
        }
    };
    let mut stretches: Vec<Stretch> = items(costing, piece).map(stretch).collect();
    let is_wire = |s: &Stretch| {
        s.item
            .is_some_and(|k| matches!(track.items[k].what, What::Wire(_)))
    };
    if sheet.geometry.passes.iter().any(|(p, _)| *p == n) {
        let (slack, bars) = sheet.passing(costing, n);
        let shift = usize::from(matches!(piece.kind, Kind::Half { .. }) && piece.upper.is_none());
        for (gap, bar) in bars.into_iter().rev() {
            let gap = gap.saturating_sub(shift).min(stretches.len());
            let after_wire = gap > 0 && is_wire(&stretches[gap - 1]);
            let held = Stretch {
                held: (slack >= -300).then(|| sheet.bar(bar)),
                ..Stretch::free(2 * CLEAR)
            };
            let rest = Stretch {
                gives: true,
                ..Stretch::free(0)
            };
            let both = if after_wire {
                [held, rest]
            } else {
                [rest, held]
            };
            stretches.splice(gap..gap, both);
        }
    }
    let stands_on_bar = piece
        .lower
        .is_some_and(|hub| plan.hubs[hub].kind == HubKind::Bar);
    if stands_on_bar && stretches.last().is_some_and(is_wire) {
        stretches.push(Stretch::free(OVER_BAR));
    }
    for (j, jumper) in sheet.pieces.iter().enumerate() {
        if jumper.kind == Kind::Jumper
            && sheet.geometry.beside[j] == Some(n)
            && jumper.column > piece.column
        {
            let room = Stretch::free(BRACKET);
            if jumper.upper.is_some() {
                stretches.insert(0, room)
            } else {
                stretches.push(room)
            }
        }
    }
    Some(Laid {
        piece: n,
        from,
        to,
        stretches,
    })
}

impl Laid {
    /// Between what is held, the free length goes to the wires.
    fn spread(&mut self) {
        let held: Vec<usize> = (0..self.stretches.len())
            .filter(|k| self.stretches[*k].held.is_some())
            .collect();
        let mut start = self.from;
        let mut next = 0;
        for stop in held.into_iter().map(Some).chain([None]) {
            let until = stop.unwrap_or(self.stretches.len());
            let end = match stop {
                Some(k) => self.stretches[k].held.unwrap_or(0) - self.stretches[k].least / 2,
                None => self.to,
            };
            let part = &mut self.stretches[next..until];
            let used: Length = part.iter().map(|s| s.least).sum();
            let giving = part.iter().filter(|s| s.gives).count();
            let mut left = end - start - used;
            let mut giving = Length::try_from(giving).unwrap_or(0);
            let mut y = start;
            for stretch in part {
                stretch.from = y;
                y += stretch.least;
                if stretch.gives && giving > 0 {
                    let share = left / giving;
                    y += share;
                    left -= share;
                    giving -= 1;
                }
                stretch.to = y;
            }
            if let Some(k) = stop {
                let stretch = &mut self.stretches[k];
                stretch.from = end;
                stretch.to = end + stretch.least;
                start = stretch.to;
                next = k + 1;
            }
        }
    }

    /// How high and how low the middle of a stretch can be.
    fn range(&self, at: usize) -> (Length, Length) {
        let (mut low, mut high) = (self.from, self.to);
        for stretch in &self.stretches[..at] {
            low = stretch
                .held
                .map_or(low + stretch.least, |y| y + stretch.least / 2);
        }
        for stretch in self.stretches[at + 1..].iter().rev() {
            high = stretch
                .held
                .map_or(high - stretch.least, |y| y - stretch.least / 2);
        }
        let half = self.stretches[at].least / 2;
        (low + half, high - half)
    }
}

/// A cavity that may be brought to the height of others.
#[derive(Clone)]
struct Candidate {
    laid: usize,
    stretch: usize,
    low: Length,
    high: Length,
    now: Length,
}

/// Brings cavities of one connector to one height where their tracks allow it.
fn rows(costing: &Costing<'_, '_>, sheet: &Sheet, laid: &mut [Laid]) -> Vec<Row> {
    let mut of: Vec<(&str, Vec<(usize, usize)>)> = Vec::new();
    let mut known: HashMap<&str, usize> = HashMap::new();
    for (n, track) in laid.iter().enumerate() {
        for (k, stretch) in track.stretches.iter().enumerate() {
            let items = &costing.plan.tracks[sheet.pieces[track.piece].track].items;
            if let Some(What::Cavity(cavity)) = stretch.item.map(|i| items[i].what) {
                let at = *known.entry(&cavity.connector).or_insert_with(|| {
                    of.push((&cavity.connector, Vec::new()));
                    of.len() - 1
                });
                of[at].1.push((n, k));
            }
        }
    }
    of.sort_by_key(|(_, all)| std::cmp::Reverse(all.len()));
    let mut rows = Vec::new();
    for (connector, mut left) in of {
        loop {
            let candidates: Vec<Candidate> = left
                .iter()
                .map(|(n, k)| {
                    let (low, high) = laid[*n].range(*k);
                    Candidate {
                        laid: *n,
                        stretch: *k,
                        low,
                        high,
                        now: laid[*n].stretches[*k].middle(),
                    }
                })
                .filter(|c| c.low <= c.high + 1)
                .collect();
            let best = candidates
                .iter()
                .flat_map(|c| [c.low, c.high, c.now])
                .map(|y| reaching(&candidates, y))
                .max_by_key(Vec::len)
                .unwrap_or_default();
            if best.len() < 2 {
                break;
            }
            let low = best.iter().map(|c| c.low).max().unwrap_or(0);
            let high = best.iter().map(|c| c.high).min().unwrap_or(0);
            let mean = best.iter().map(|c| c.now).sum::<Length>()
                / Length::try_from(best.len()).unwrap_or(1);
            let y = mean.max(low).min(high);
            let mut columns = Vec::new();
            for c in &best {
                laid[c.laid].stretches[c.stretch].held = Some(y);
                laid[c.laid].spread();
                columns.push(sheet.pieces[laid[c.laid].piece].column);
            }
            columns.sort_unstable();
            let names = best.iter().filter_map(|c| {
                let items = &costing.plan.tracks[sheet.pieces[laid[c.laid].piece].track].items;
                laid[c.laid].stretches[c.stretch]
                    .item
                    .map(|k| items[k].right + 200)
            });
            let name = names.max().unwrap_or(0);
            rows.push(Row {
                connector: connector.to_owned(),
                y,
                columns,
                name,
            });
            left.retain(|(n, k)| !best.iter().any(|c| c.laid == *n && c.stretch == *k));
        }
    }
    rows
}

/// One cavity of each track that can be brought to a height.
fn reaching(candidates: &[Candidate], y: Length) -> Vec<Candidate> {
    let mut found: Vec<Candidate> = Vec::new();
    for c in candidates {
        if c.low <= y + 1 && c.high >= y - 1 && !found.iter().any(|f| f.laid == c.laid) {
            found.push(c.clone());
        }
    }
    found
}
