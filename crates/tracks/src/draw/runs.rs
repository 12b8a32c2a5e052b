//! Wires and what stands on their tracks.

use super::{Drawing, Touch, spot};
use crate::Length;
use crate::geometry::ends_at;
use crate::lay::{Laid, Stretch};
use crate::pieces::{Kind, Piece};
use crate::plan::{BESIDE, Item, What, cavity_name};
use crate::scene::{CutTag, Spot, StrokeKind, SymbolOf, TextRole, WireRun};
use crate::text::width;
use cimento_model::circuit::{DrawnPart, DrawnWire};

/// From the middle of a symbol to where its leads begin.
const HALF_SYMBOL: Length = 1000;
/// Labels of less room than this are in one line where they may be.
const TWO_LINES: Length = 2250;

impl<'d> Drawing<'_, '_, 'd> {
    pub(super) fn track(&mut self, laid: &Laid) {
        let piece = self.sheet.pieces[laid.piece];
        let x = self.sheet.x[piece.column];
        let plan = self.costing.plan;
        let track = &plan.tracks[piece.track];
        for (n, stretch) in laid.stretches.iter().enumerate() {
            let Some(k) = stretch.item else { continue };
            let item = &track.items[k];
            let points = if piece.end_up == 0 {
                item.points
            } else {
                [item.points[1], item.points[0]]
            };
            match item.what {
                What::Wire(wire) => {
                    let is_splice = |k: usize| matches!(track.items[k].what, What::Splice(_));
                    let (from, to) = reach(&laid.stretches, n, is_splice);
                    self.run(wire, &[(x, from), (x, to)], points);
                    self.wire_label(wire, x, stretch, self.costing.flat(piece.track));
                }
                What::Mount(part) => self.mount(part, x, stretch),
                What::Link => {
                    self.stroke(StrokeKind::Link, "", &[(x, stretch.from), (x, stretch.to)])
                }
                What::Splice(id) => {
                    self.text(TextRole::Name, id, (x + 700, stretch.middle() + 300), id);
                    self.point(id, (x, stretch.middle()));
                    self.place(id, (x, stretch.middle()));
                }
                What::Cavity(cavity) => {
                    let y = stretch.middle();
                    self.stroke(
                        StrokeKind::Lead,
                        &cavity.id,
                        &[(x, stretch.from), (x, stretch.to)],
                    );
                    self.symbol(SymbolOf::Cavity, &cavity.id, (x, y), false);
                    self.text(
                        TextRole::Terminal,
                        &cavity_name(&cavity.id),
                        (x + 900, y + 300),
                        &cavity.id,
                    );
                    self.point(points[0], (x, stretch.from + 50));
                    self.point(points[1], (x, stretch.to - 50));
                    self.place(&cavity.id, (x - 400, y));
                }
                What::Part(part) => self.part(part, item, points, x, stretch),
            }
        }
        match piece.kind {
            Kind::Case => self.case(&piece, x, laid.from),
            Kind::Half { end, cut } => self.tag(&piece, (end, cut), x, laid),
            _ => {}
        }
        for (hub, point, edge) in ends_at(plan, &piece) {
            if hub != crate::plan::RAIL {
                self.touched.push(Touch {
                    point,
                    hub,
                    x,
                    edge,
                });
            }
        }
    }

    fn run(&mut self, wire: &DrawnWire, path: &[(Length, Length)], points: [&str; 2]) {
        let path: Vec<Spot> = path.iter().map(|p| spot(*p)).collect();
        self.scene.wires.push(WireRun {
            id: wire.id.clone(),
            path,
            ends: points.map(str::to_owned),
        });
    }

    fn wire_label(&mut self, wire: &DrawnWire, x: Length, stretch: &Stretch, flat: bool) {
        let room = stretch.to - stretch.from;
        let middle = stretch.middle();
        self.place(&wire.id, (x, middle));
        if flat && room < TWO_LINES.max(3000) {
            let about = x + BESIDE + width(&wire.id, true) + width(" ", true);
            self.text(
                TextRole::Number,
                &wire.id,
                (x + BESIDE, middle + 300),
                &wire.id,
            );
            self.text(
                TextRole::About,
                &about_wire(wire),
                (about, middle + 300),
                &wire.id,
            );
        } else {
            self.text(
                TextRole::Number,
                &wire.id,
                (x + BESIDE, middle - 180),
                &wire.id,
            );
            self.text(
                TextRole::About,
                &about_wire(wire),
                (x + BESIDE, middle + 800),
                &wire.id,
            );
        }
    }

    fn mount(&mut self, part: &DrawnPart, x: Length, stretch: &Stretch) {
        let id = format!("{}.mount", part.id);
        self.stroke(
            StrokeKind::Mount,
            &id,
            &[(x, stretch.from), (x, stretch.to)],
        );
        let y = stretch.middle().min(self.sheet.geometry.ground + 400);
        self.text(
            TextRole::Note,
            &format!("{} case", part.id),
            (x + 600, y + 200),
            &id,
        );
        self.place(&id, (x, stretch.middle()));
    }

    /// A case that is bolted to its metal right where it stands.
    fn case(&mut self, piece: &Piece, x: Length, from: Length) {
        let What::Mount(part) = self.costing.plan.tracks[piece.track].items[0].what else {
            return;
        };
        let id = format!("{}.mount", part.id);
        let y = from + 1000;
        self.stroke(StrokeKind::Lead, &id, &[(x, from), (x, y)]);
        self.stroke(StrokeKind::Chassis, &id, &[(x - 600, y), (x + 600, y)]);
        self.text(
            TextRole::Note,
            part.mount.as_deref().unwrap_or_default(),
            (x + 900, y + 300),
            &id,
        );
        self.place(&id, (x, from + 500));
    }

    /// The cut end of a wire, and where it goes on.
    fn tag(&mut self, piece: &Piece, (end, cut): (usize, usize), x: Length, laid: &Laid) {
        let track = &self.costing.plan.tracks[piece.track];
        let What::Wire(wire) = track.items[cut].what else {
            return;
        };
        let down = piece.upper.is_some();
        let y = if down { laid.to } else { laid.from };
        let Spot { x: left, y: top } = spot((x, y));
        let to = track.ends[1 - end].point;
        self.scene.tags.push(CutTag {
            wire: wire.id.clone(),
            x: left,
            y: top,
            down,
            to: to.to_owned(),
        });
        let line = if down { y + 950 } else { y - 350 };
        self.text(
            TextRole::Note,
            to,
            (x + 700, line),
            &format!("tag:{}", wire.id),
        );
    }

    fn part(
        &mut self,
        part: &DrawnPart,
        item: &Item<'_>,
        points: [&str; 2],
        x: Length,
        stretch: &Stretch,
    ) {
        let y = stretch.middle();
        let feed = part.terminals.iter().find(|t| t.feed_side);
        let turned = feed.is_some_and(|t| t.point == points[1]);
        self.stroke(
            StrokeKind::Lead,
            &part.id,
            &[(x, stretch.from), (x, y - HALF_SYMBOL)],
        );
        self.stroke(
            StrokeKind::Lead,
            &part.id,
            &[(x, y + HALF_SYMBOL), (x, stretch.to)],
        );
        self.symbol(SymbolOf::Part, &part.id, (x, y), turned);
        let lines = Length::try_from(item.lines.len()).unwrap_or(0);
        let left = x + if part.is_fuse { 800 } else { 1400 };
        let mut base = y - lines * 500 + 800;
        for (n, line) in item.lines.iter().enumerate() {
            let role = if n == 0 {
                TextRole::Name
            } else {
                TextRole::Note
            };
            self.text(role, line, (left, base), &part.id);
            base += 1000;
        }
        self.point(points[0], (x, stretch.from + 100));
        self.point(points[1], (x, stretch.to - 100));
        self.place(&part.id, (x, y));
    }

    /// Wires between two terminals of one box.
    pub(super) fn jumpers(&mut self) {
        let plan = self.costing.plan;
        for piece in self.sheet.pieces.iter().filter(|p| p.kind == Kind::Jumper) {
            let Some(hub) = piece.hub() else { continue };
            let track = &plan.tracks[piece.track];
            let far = self.costing.fixed.rooms.far[piece.track];
            let (far, near) = (track.ends[far].point, track.ends[1 - far].point);
            let down = piece.upper.is_some();
            let edge = if down { 1 } else { -1 };
            let g = &self.sheet.geometry;
            let y = if down { g.bottom[hub] } else { g.top[hub] };
            let x = self.sheet.x[piece.column];
            let other = self
                .touched
                .iter()
                .find(|t| t.hub == hub && t.point == near)
                .map(|t| t.x);
            self.touched.push(Touch {
                point: far,
                hub,
                x,
                edge,
            });
            let side = |other: Length| (x - other).signum();
            // A terminal that only jumpers go to stands beside.
            let landing = other.map_or(x + 1700, |o| o + side(o) * 500);
            self.touched.push(Touch {
                point: near,
                hub,
                x: landing,
                edge,
            });
            let bracket = y + edge * 900;
            let What::Wire(wire) = track.items[0].what else {
                continue;
            };
            let path = [(x, y), (x, bracket), (landing, bracket), (landing, y)];
            self.run(wire, &path, [far, near]);
            let line = match (down, x < landing) {
                (true, true) => y + 2000,
                (true, false) => y + 1000,
                (false, true) => y - 2400,
                (false, false) => y - 1300,
            };
            self.text(TextRole::Number, &wire.id, (x + BESIDE, line), &wire.id);
            self.text(
                TextRole::About,
                &about_wire(wire),
                (x + BESIDE, line + 960),
                &wire.id,
            );
            self.place(&wire.id, ((x + landing) / 2, bracket));
        }
    }
}

/// What is written under a wire's number; a wire of no known size has a dash there, for readings to take its place.
fn about_wire(wire: &DrawnWire) -> String {
    if wire.label.is_empty() {
        "–".to_owned()
    } else {
        wire.label.clone()
    }
}

/// A wire runs on through the room beside its label, and into a splice.
fn reach(stretches: &[Stretch], n: usize, is_splice: impl Fn(usize) -> bool) -> (Length, Length) {
    let (mut from, mut to) = (stretches[n].from, stretches[n].to);
    for before in stretches[..n].iter().rev() {
        match before.item {
            None => from = before.from,
            Some(k) if is_splice(k) => {
                from = before.middle();
                break;
            }
            Some(_) => break,
        }
    }
    for after in &stretches[n + 1..] {
        match after.item {
            None => to = after.to,
            Some(k) if is_splice(k) => {
                to = after.middle();
                break;
            }
            Some(_) => break,
        }
    }
    (from, to)
}
