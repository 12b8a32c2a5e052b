//! Grounds, metals and straps at the foot of the sheet.

use super::Drawing;
use crate::Length;
use crate::cost::foot_end;
use crate::pieces::Kind;
use crate::scene::{Spot, StrokeKind, TextRole, WireRun};
use crate::sheet::METAL;
use crate::text::width;

/// Something that stands at the foot.
#[derive(Clone, Copy)]
struct Foot<'d> {
    x: Length,
    metal: &'d str,
    ground: Option<&'d str>,
    /// Of what stands there by itself, which.
    alone: Option<usize>,
}

impl<'d> Drawing<'_, '_, 'd> {
    pub(super) fn feet(&mut self) {
        let plan = self.costing.plan;
        let pieces = self.sheet.pieces.iter();
        let mut feet: Vec<Foot<'d>> = pieces
            .filter_map(|p| {
                let (metal, ground) = foot_end(plan, p)?.foot()?;
                let alone = match p.kind {
                    Kind::Foot(n) => Some(n),
                    _ => None,
                };
                Some(Foot {
                    x: self.sheet.x[p.column],
                    metal,
                    ground,
                    alone,
                })
            })
            .collect();
        feet.sort_by_key(|f| f.x);
        self.metals(&feet);
        self.grounds(&feet);
        self.straps(&feet);
    }

    fn metals(&mut self, feet: &[Foot<'d>]) {
        let y = self.sheet.geometry.ground + METAL;
        let mut free = Length::MIN / 2;
        let mut at = 0;
        for run in feet.chunk_by(|a, b| a.metal == b.metal) {
            let (Some(first), Some(last)) = (run.first(), run.last()) else {
                continue;
            };
            let half = |a: Length, b: Length| (a + b) / 2;
            let from = match at {
                0 => first.x - 1200,
                _ => (first.x - 1200).max(half(feet[at - 1].x, first.x) + 500),
            };
            at += run.len();
            let to = match feet.get(at) {
                Some(next) => (last.x + 2000).min(half(last.x, next.x) - 500),
                None => last.x + 2000,
            };
            let metal = first.metal;
            let id = format!("metal:{metal}");
            self.stroke(StrokeKind::Metal, &id, &[(from, y), (to, y)]);
            let left = from.max(free + 800);
            self.text(TextRole::Note, metal, (left, y + 1100), &id);
            free = left + width(metal, false);
            self.point(&id, (from, y));
        }
    }

    fn grounds(&mut self, feet: &[Foot<'d>]) {
        let y = self.sheet.geometry.ground;
        for run in feet.chunk_by(|a, b| a.ground.is_some() && a.ground == b.ground) {
            let (Some(first), Some(last)) = (run.first(), run.last()) else {
                continue;
            };
            let Some(ground) = first.ground else { continue };
            if last.x > first.x {
                self.stroke(StrokeKind::GroundRun, ground, &[(first.x, y), (last.x, y)]);
            }
            self.stroke(
                StrokeKind::Ground,
                ground,
                &[(first.x, y), (first.x, y + METAL)],
            );
            self.text(TextRole::Name, ground, (first.x + 500, y + 950), ground);
            self.place(ground, (first.x, y + METAL / 2));
            for foot in run {
                self.point(ground, (foot.x, y));
            }
        }
    }

    fn straps(&mut self, feet: &[Foot<'d>]) {
        let plan = self.costing.plan;
        let ground = self.sheet.geometry.ground;
        for (n, foot) in plan.feet.iter().enumerate() {
            let Some((wire, false)) = foot.strap else {
                continue;
            };
            let find = |n| feet.iter().find(|f| f.alone == Some(n));
            let (Some(a), Some(b)) = (find(n), find(n + 1)) else {
                continue;
            };
            let top = ground - 1200;
            let end = |f: &Foot<'_>| {
                if f.ground.is_some() {
                    ground
                } else {
                    ground + METAL
                }
            };
            let spot = |x, y| super::spot((x, y));
            let path: Vec<Spot> = vec![
                spot(a.x, end(a)),
                spot(a.x, top),
                spot(b.x, top),
                spot(b.x, end(b)),
            ];
            let ends = [wire.from.clone(), wire.to.clone()];
            self.scene.wires.push(WireRun {
                id: wire.id.clone(),
                path,
                ends,
            });
            let right = a.x.max(b.x);
            self.text(
                TextRole::Number,
                &wire.id,
                (right + 600, ground - 1000),
                &wire.id,
            );
            self.text(
                TextRole::About,
                &wire.label,
                (right + 600, ground - 50),
                &wire.id,
            );
            self.place(&wire.id, ((a.x + b.x) / 2, top));
        }
    }
}
