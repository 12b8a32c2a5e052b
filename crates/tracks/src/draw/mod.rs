//! Draws a placement on a sheet.

mod boxes;
mod feet;
mod nudge;
mod runs;

use std::collections::HashMap;

use crate::Length;
use crate::cost::Costing;
use crate::geometry::OVER_RAIL;
use crate::lay::{Laid, Row, lay};
use crate::placement::Placement;
use crate::plan::{HubKind, Plan};
use crate::scene::{
    PlaceSpot, PointSpot, Scene, Spot, Stroke, StrokeKind, Symbol, SymbolOf, Text, TextRole,
};
use crate::sheet::{RAIL_LINE, Sheet, Size};

/// Draws a placement of a plan on a sheet of some size.
pub fn draw(plan: &Plan<'_>, placement: &Placement, size: Size) -> Scene {
    let mut costing = Costing::new(plan);
    let sheet = Sheet::new(&mut costing, placement, size);
    let (laid, rows) = lay(&costing, &sheet);
    let mut drawing = Drawing {
        costing: &costing,
        sheet: &sheet,
        scene: Scene::default(),
        touched: Vec::new(),
    };
    drawing.rows(&rows);
    for track in &laid {
        drawing.track(track);
    }
    drawing.jumpers();
    drawing.rail(&laid);
    drawing.hubs();
    drawing.feet();
    let mut scene = drawing.scene;
    scene.width = units(sheet.width);
    scene.height = units(sheet.height);
    nudge::nudge(&mut scene, plan.drawing);
    scene.scale = f64::from(i32::try_from(sheet.scale).unwrap_or(i32::MAX)) / 1000.0;
    scene
}

/// Where a track touches a hub.
#[derive(Clone, Copy)]
struct Touch<'d> {
    point: &'d str,
    hub: usize,
    x: Length,
    /// 1 where the track leaves downward, −1 where it comes from above.
    edge: i32,
}

/// A diagram while it is drawn.
struct Drawing<'a, 'p, 'd> {
    costing: &'a Costing<'p, 'd>,
    sheet: &'a Sheet,
    scene: Scene,
    touched: Vec<Touch<'d>>,
}

impl<'d> Drawing<'_, '_, 'd> {
    fn text(&mut self, role: TextRole, text: &str, (x, y): (Length, Length), own: &str) {
        if !text.is_empty() {
            let (x, y) = (units(x), units(y + OVER_RAIL));
            self.scene.texts.push(Text {
                role,
                text: text.to_owned(),
                x,
                y,
                own: own.to_owned(),
            });
        }
    }

    fn stroke(&mut self, kind: StrokeKind, own: &str, path: &[(Length, Length)]) {
        let path = path.iter().map(|p| spot(*p)).collect();
        self.scene.strokes.push(Stroke {
            kind,
            own: own.to_owned(),
            path,
        });
    }

    fn symbol(&mut self, of: SymbolOf, id: &str, (x, y): (Length, Length), turned: bool) {
        let Spot { x, y } = spot((x, y));
        self.scene.symbols.push(Symbol {
            of,
            id: id.to_owned(),
            x,
            y,
            turned,
            mirrored: false,
        });
    }

    fn point(&mut self, id: &str, (x, y): (Length, Length)) {
        let Spot { x, y } = spot((x, y));
        self.scene.points.push(PointSpot {
            id: id.to_owned(),
            x,
            y,
        });
    }

    fn place(&mut self, id: &str, (x, y): (Length, Length)) {
        let Spot { x, y } = spot((x, y));
        self.scene.places.push(PlaceSpot {
            id: id.to_owned(),
            x,
            y,
        });
    }

    /// A fine line through cavities of one connector whose tracks are neighbours.
    fn rows(&mut self, rows: &[Row]) {
        for row in rows {
            for pair in row.columns.windows(2) {
                let &[a, b] = pair else { continue };
                let used = |k: usize| self.sheet.geometry.right[k] > 0;
                let (left, right) = (self.sheet.x[a] + row.name, self.sheet.x[b] - 800);
                if !(a + 1..b).any(used) && left < right {
                    self.stroke(
                        StrokeKind::Row,
                        &row.connector,
                        &[(left, row.y), (right, row.y)],
                    );
                }
            }
        }
    }

    fn rail(&mut self, laid: &[Laid]) {
        let pieces = laid.iter().map(|l| &self.sheet.pieces[l.piece]);
        let at = pieces
            .filter(|p| p.upper == Some(crate::plan::RAIL))
            .map(|p| self.sheet.x[p.column]);
        let at: Vec<Length> = at.collect();
        let (Some(first), Some(last)) = (at.iter().min().copied(), at.iter().max().copied()) else {
            return;
        };
        let plan = self.costing.plan;
        let source = plan.source.and_then(|hub| match plan.hubs[hub].kind {
            HubKind::Box(part) => Some(part),
            _ => None,
        });
        let Some(source) = source else { return };
        let Some(post) = source.terminals.first() else {
            return;
        };
        self.stroke(
            StrokeKind::Rail,
            &post.point,
            &[(first - 1000, RAIL_LINE), (last + 1000, RAIL_LINE)],
        );
        self.text(TextRole::Name, "30", (first - 1000, -350), "rail");
        self.text(
            TextRole::Note,
            &format!("{} {}", source.id, post.label),
            (first + 500, -350),
            "rail",
        );
        for x in at {
            self.point(&post.point, (x, RAIL_LINE));
        }
    }

    /// Boxes of parts, and bars.
    fn hubs(&mut self) {
        let mut by_hub: HashMap<usize, Vec<Touch<'d>>> = HashMap::new();
        for touch in &self.touched {
            by_hub.entry(touch.hub).or_default().push(*touch);
        }
        for (hub, kind) in self
            .costing
            .plan
            .hubs
            .iter()
            .map(|h| h.kind)
            .enumerate()
            .skip(1)
        {
            let g = &self.sheet.geometry;
            if g.first[hub] > g.last[hub] {
                continue;
            }
            let touches = by_hub.remove(&hub).unwrap_or_default();
            match kind {
                HubKind::Box(part) => self.part_box(hub, part, &touches),
                HubKind::Bar => self.bar(hub, &touches),
                HubKind::Rail => {}
            }
        }
    }

    fn bar(&mut self, hub: usize, touches: &[Touch<'d>]) {
        let id = self.costing.plan.hubs[hub].id;
        let g = &self.sheet.geometry;
        let (from, to) = (self.sheet.x[g.first[hub]], self.sheet.x[g.last[hub]]);
        let y = self.sheet.bar(hub);
        if to > from {
            self.stroke(StrokeKind::Bar, id, &[(from, y), (to, y)]);
        }
        if self.costing.plan.drawing.splices.iter().any(|s| s == id) {
            self.text(TextRole::Name, id, (from + 500, y - 400), id);
            self.place(id, (from, y));
        }
        let mut at: Vec<Length> = touches.iter().map(|t| t.x).chain([from]).collect();
        at.sort_unstable();
        at.dedup();
        for x in at {
            self.point(id, (x, y));
        }
    }
}

fn spot((x, y): (Length, Length)) -> Spot {
    Spot {
        x: units(x),
        y: units(y + OVER_RAIL),
    }
}

/// A length in diagram units, to a tenth.
fn units(length: Length) -> f64 {
    f64::from((length + length.signum() * 5) / 10) / 10.0
}
