//! Parts in boxes, with their terminals on the edges.

use cimento_model::circuit::DrawnPart;

use super::{Drawing, Touch, spot};
use crate::Length;
use crate::geometry::{LABELS, SHOULDER, least_width};
use crate::scene::{PartBox, StrokeKind, Symbol, SymbolOf, TextRole};
use crate::text::width;

/// A symbol and what stands beside it.
const SIGN: Length = 2600;

/// A box with what it has room for.
struct Frame {
    left: Length,
    right: Length,
    top: Length,
    bottom: Length,
}

/// A terminal on an edge, with all tracks that go there.
struct OnEdge<'d> {
    point: &'d str,
    label: &'d str,
    edge: i32,
    at: Vec<Length>,
}

impl<'d> Drawing<'_, '_, 'd> {
    pub(super) fn part_box(&mut self, hub: usize, part: &'d DrawnPart, touches: &[Touch<'d>]) {
        let frame = self.frame(hub);
        let (left, top) = (spot((frame.left, frame.top)), frame.bottom - frame.top);
        self.scene.boxes.push(PartBox {
            id: part.id.clone(),
            x: left.x,
            y: left.y,
            width: super::units(frame.right - frame.left),
            height: super::units(top),
        });
        let edges = on_edges(part, touches);
        let contacts = self.contacts(part, &frame, &edges) || self.positions(part, &frame, &edges);
        if !contacts {
            self.name(part, &frame, hub);
        }
        self.terminals(part, &frame, edges, contacts);
        self.place(&part.id, (frame.left, (frame.top + frame.bottom) / 2));
    }

    fn frame(&self, hub: usize) -> Frame {
        let g = &self.sheet.geometry;
        let (first, last) = (g.first[hub], g.last[hub]);
        let (mut left, mut right) = (
            self.sheet.x[first] - SHOULDER + 100,
            self.sheet.x[last] + SHOULDER - 100,
        );
        let want = least_width(&self.costing.fixed.hubs[hub], first, last);
        if right - left < want {
            right = self.sheet.cells[last].1.min(left + want);
        }
        if right - left < want {
            left = self.sheet.cells[first].0.max(right - want);
        }
        Frame {
            left,
            right,
            top: g.top[hub],
            bottom: g.bottom[hub],
        }
    }

    /// A part's sign with its name beside it, in the middle of the box.
    fn name(&mut self, part: &DrawnPart, frame: &Frame, hub: usize) {
        let middle = self.line(frame, hub);
        let first = width(&part.id, true) + width("  ", false) + width(&part.rating, false);
        let wide = first.max(width(&part.name, false));
        let left =
            (frame.left + (frame.right - frame.left - wide - SIGN) / 2).max(frame.left + 300);
        self.symbol(SymbolOf::Sign, &part.id, (left + 1100, middle), false);
        let text = left + SIGN;
        self.text(TextRole::Name, &part.id, (text, middle - 200), &part.id);
        let rating = text + width(&part.id, true) + width("  ", false);
        self.text(
            TextRole::Note,
            &part.rating,
            (rating, middle - 200),
            &part.id,
        );
        self.text(TextRole::Note, &part.name, (text, middle + 850), &part.id);
    }

    /// The middle of what is between the labels of the terminals.
    fn line(&self, frame: &Frame, hub: usize) -> Length {
        let upper = if self.sheet.geometry.has_top[hub] {
            LABELS
        } else {
            0
        };
        frame.top + upper + 1300
    }

    /// A relay's coil and contact on their tracks, where these go straight through; false where they don't.
    fn contacts(&mut self, part: &DrawnPart, frame: &Frame, edges: &[OnEdge<'d>]) -> bool {
        if !part.kind.ends_with("relay") {
            return false;
        }
        let through = |upper: &str, lower: &str| {
            let find = |label: &str| edges.iter().find(|e| e.label == label && e.at.len() == 1);
            let (a, b) = (find(upper)?, find(lower)?);
            (a.at == b.at && a.edge != b.edge).then(|| a.at[0])
        };
        let (Some(coil), Some(contact)) = (through("86", "85"), through("30", "87")) else {
            return false;
        };
        let name = width(&part.id, true).max(width(&part.name, false));
        let (low, high) = (coil.min(contact), coil.max(contact));
        let between = high - low - 2400;
        let beside = frame.right - high - 1800;
        if name > between && name > beside {
            return false;
        }
        let middle = (frame.top + frame.bottom) / 2;
        let to_right = contact > coil;
        for (x, of, half) in [
            (coil, SymbolOf::Coil, 500),
            (contact, SymbolOf::Contact, 600),
        ] {
            self.stroke(
                StrokeKind::Lead,
                &part.id,
                &[(x, frame.top), (x, middle - half)],
            );
            self.stroke(
                StrokeKind::Lead,
                &part.id,
                &[(x, middle + half), (x, frame.bottom)],
            );
            let at = spot((x, middle));
            let mirrored = of == SymbolOf::Contact && !to_right;
            self.scene.symbols.push(Symbol {
                of,
                id: part.id.clone(),
                x: at.x,
                y: at.y,
                turned: false,
                mirrored,
            });
        }
        let side = if to_right { 1 } else { -1 };
        self.stroke(
            StrokeKind::Moves,
            &part.id,
            &[(coil + side * 800, middle), (contact - side * 350, middle)],
        );
        let line = width(&part.id, true) + width("  ", false) + width(&part.name, false);
        let gap = width(&part.id, true) + width("  ", false);
        if line <= between {
            let left = (low + high - line) / 2;
            self.text(TextRole::Name, &part.id, (left, middle - 400), &part.id);
            self.text(
                TextRole::Note,
                &part.name,
                (left + gap, middle - 400),
                &part.id,
            );
        } else if name <= between {
            self.text(
                TextRole::Name,
                &part.id,
                ((low + high - width(&part.id, true)) / 2, middle - 400),
                &part.id,
            );
            self.text(
                TextRole::Note,
                &part.name,
                ((low + high - width(&part.name, false)) / 2, middle + 1000),
                &part.id,
            );
        } else {
            let left = high + 1200;
            self.text(TextRole::Name, &part.id, (left, middle - 200), &part.id);
            self.text(TextRole::Note, &part.name, (left, middle + 850), &part.id);
        }
        true
    }

    /// A key switch's contacts on their tracks, from its feed to each outlet; false where its name finds no room beside
    /// them.
    fn positions(&mut self, part: &DrawnPart, frame: &Frame, edges: &[OnEdge<'d>]) -> bool {
        let single = |e: &&OnEdge<'_>| e.at.len() == 1;
        let feed = edges.iter().filter(single).find(|e| e.edge < 0);
        let outlets: Vec<&OnEdge<'d>> = edges.iter().filter(|e| e.edge > 0).collect();
        let (true, Some(feed), false) = (part.kind == "key_switch", feed, outlets.is_empty())
        else {
            return false;
        };
        if edges.iter().filter(|e| e.edge < 0).count() > 1 || !outlets.iter().all(single) {
            return false;
        }
        let feed = feed.at[0];
        let mut busy: Vec<(Length, Length)> = outlets
            .iter()
            .map(|o| (o.at[0] - 1000, o.at[0] + 300))
            .collect();
        busy.push((feed - 200, feed + 200));
        busy.sort_unstable();
        let wide = width(&part.id, true).max(width(&part.name, false));
        let starts = std::iter::once(frame.left).chain(busy.iter().map(|(_, to)| *to));
        let ends = busy.iter().map(|(from, _)| *from).chain([frame.right]);
        let room = starts.zip(ends).max_by_key(|(from, to)| to - from);
        let Some((from, to)) = room.filter(|(from, to)| to - from >= wide + 800) else {
            return false;
        };
        let bus = frame.top + LABELS + 300;
        let contact = bus + 1000;
        let all = outlets.iter().map(|o| o.at[0]);
        let (low, high) = (all.clone().min().unwrap_or(feed), all.max().unwrap_or(feed));
        self.stroke(
            StrokeKind::Lead,
            &part.id,
            &[(feed, frame.top), (feed, bus)],
        );
        self.stroke(
            StrokeKind::Lead,
            &part.id,
            &[(feed.min(low), bus), (feed.max(high), bus)],
        );
        for outlet in &outlets {
            let x = outlet.at[0];
            self.stroke(StrokeKind::Lead, &part.id, &[(x, bus), (x, contact - 600)]);
            self.stroke(
                StrokeKind::Lead,
                &part.id,
                &[(x, contact + 600), (x, frame.bottom)],
            );
            self.symbol(SymbolOf::Contact, &part.id, (x, contact), false);
        }
        // What moves them together: a fine line that leaves the name out.
        let left = (from + to - wide) / 2;
        for (from, to) in [
            (low - 350, (left - 200).min(high - 350)),
            ((left + wide + 200).max(low - 350), high - 350),
        ] {
            if to - from > 300 {
                self.stroke(
                    StrokeKind::Moves,
                    &part.id,
                    &[(from, contact), (to, contact)],
                );
            }
        }
        self.text(TextRole::Name, &part.id, (left, contact), &part.id);
        self.text(TextRole::Note, &part.name, (left, contact + 950), &part.id);
        true
    }

    /// Labels inside the edges, a strip where two wires share a terminal, and the terminals that no wire goes to.
    fn terminals(
        &mut self,
        part: &'d DrawnPart,
        frame: &Frame,
        edges: Vec<OnEdge<'d>>,
        contacts: bool,
    ) {
        let line = |edge: i32| if edge > 0 { frame.bottom } else { frame.top };
        let text = |edge: i32| {
            if edge > 0 {
                frame.bottom - 400
            } else {
                frame.top + 1000
            }
        };
        // What is taken of each edge by terminals and what is written at them.
        let mut taken: Vec<(i32, Length, Length)> = Vec::new();
        for terminal in &edges {
            let y = line(terminal.edge);
            let (Some(low), Some(high)) = (
                terminal.at.iter().min().copied(),
                terminal.at.iter().max().copied(),
            ) else {
                continue;
            };
            if high > low {
                self.stroke(StrokeKind::Strip, terminal.point, &[(low, y), (high, y)]);
            }
            let mean = terminal.at.iter().sum::<Length>()
                / Length::try_from(terminal.at.len()).unwrap_or(1);
            let x = if terminal.at.len() > 2 || (mean - terminal.at[0]).abs() < 600 {
                terminal.at[0]
            } else {
                mean
            };
            let wide = width(terminal.label, false);
            let left = match contacts {
                false => (x - wide / 2)
                    .min(frame.right - wide - 200)
                    .max(frame.left + 200),
                true if x + 600 + wide > frame.right - 100 => x - 400 - wide,
                true => x + 400,
            };
            self.text(
                TextRole::Terminal,
                terminal.label,
                (left, text(terminal.edge)),
                &part.id,
            );
            self.point(terminal.point, (x, y));
            taken.push((
                terminal.edge,
                low.min(x).min(left) - 300,
                high.max(x).max(left + wide) + 300,
            ));
        }
        let has_upper = edges.iter().any(|e| e.edge < 0);
        for terminal in &part.terminals {
            if edges.iter().any(|e| e.point == terminal.point) || self.is_rail(&terminal.point) {
                continue;
            }
            let edge = if terminal.feed_side && !part.is_source && has_upper {
                -1
            } else {
                1
            };
            let half = (width(&terminal.label, false) / 2).max(400);
            let free = |x: &Length| {
                taken
                    .iter()
                    .all(|(e, low, high)| *e != edge || x + half < *low || x - half > *high)
            };
            let tries = (frame.left + half + 300..=frame.right - half - 200)
                .rev()
                .step_by(100);
            let x = { tries }.find(free).unwrap_or(frame.right - 900);
            taken.push((edge, x - half - 300, x + half + 300));
            let wide = width(&terminal.label, false);
            self.text(
                TextRole::Terminal,
                &terminal.label,
                (x - wide / 2, text(edge)),
                &part.id,
            );
            self.point(&terminal.point, (x, line(edge)));
        }
    }

    fn is_rail(&self, point: &str) -> bool {
        let plan = self.costing.plan;
        plan.tracks
            .iter()
            .any(|t| t.way == crate::plan::Way::Link && t.ends[0].point == point)
            && !self.touched.iter().any(|t| t.point == point)
    }
}

/// The terminals that tracks go to, by edge.
fn on_edges<'d>(part: &'d DrawnPart, touches: &[Touch<'d>]) -> Vec<OnEdge<'d>> {
    let mut found: Vec<OnEdge<'d>> = Vec::new();
    for touch in touches {
        match found
            .iter_mut()
            .find(|e| e.point == touch.point && e.edge == touch.edge)
        {
            Some(known) => known.at.push(touch.x),
            None => {
                let Some(terminal) = part.terminals.iter().find(|t| t.point == touch.point) else {
                    continue;
                };
                let at = vec![touch.x];
                found.push(OnEdge {
                    point: &terminal.point,
                    label: &terminal.label,
                    edge: touch.edge,
                    at,
                });
            }
        }
    }
    found
}
