//! Current paths: from the battery's positive post through one load and back, as one reads a
//! diagram. They are what the voltage staircase is drawn along.

use std::cmp::Reverse;
use std::collections::BinaryHeap;

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Circuit, Part, Place};

/// The way of the current through one load.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct CurrentPath {
    /// "Start relay, 86 to 85".
    pub title: String,
    pub stops: Vec<PathStop>,
}

/// A test point on a path, and what lies between the one before and it.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct PathStop {
    /// The test point's id.
    pub point: String,
    /// Id of the place passed on the way here; absent at the first stop.
    pub through: Option<String>,
    /// The stop lies on the load's ground side.
    pub ground_side: bool,
    /// A probe can reach it. The end of a wire inside a splice cannot be told from the splice.
    pub reachable: bool,
    /// Its node, by number.
    #[serde(skip)]
    pub node: usize,
}

/// What passing through a load costs, in conductors.
const LOAD_COST: usize = 1000;

/// A step of a path by node and place.
pub(crate) type Step = (usize, Option<Place>);

impl Circuit {
    /// A path for every load of the circuit, in the order of the parts.
    pub fn paths(&self) -> &[CurrentPath] {
        self.paths.get_or_init(|| self.find_paths())
    }

    fn find_paths(&self) -> Vec<CurrentPath> {
        let mut out = Vec::new();
        for part in &self.parts {
            let loads = part.loads();
            for &(from_at, to_at) in &loads {
                let (from_node, to_node) = (part.nodes[from_at], part.nodes[to_at]);
                if let Some((steps, feed)) = self.path_through(part, from_node, to_node) {
                    let name = |at: usize| part.kind.terminals()[at].name;
                    let title = match loads.as_slice() {
                        [_] => part.title(),
                        _ => format!("{}, {} to {}", part.title(), name(from_at), name(to_at)),
                    };
                    out.push(self.written(title, &steps, feed));
                }
            }
        }
        out
    }

    fn written(&self, title: String, steps: &[Step], feed: usize) -> CurrentPath {
        let mut stops = Vec::new();
        for (n, &(node, through)) in steps.iter().enumerate() {
            let name = &self.nodes[node];
            let point = match name.strip_suffix(":first") {
                Some(splice) => format!("into {splice}"),
                None => name.clone(),
            };
            stops.push(PathStop {
                point,
                through: through.map(|p| self.place_id(p).to_owned()),
                ground_side: n >= feed,
                reachable: self.test_points.iter().any(|p| p.node == node),
                node,
            });
        }
        CurrentPath { title, stops }
    }

    /// Steps from positive through a load between two of a part's nodes and back to negative,
    /// with how many of them lie before the load. `None` when a side cannot be reached.
    pub(crate) fn path_through(
        &self,
        part: &Part,
        from: usize,
        to: usize,
    ) -> Option<(Vec<Step>, usize)> {
        let load = self
            .parts
            .iter()
            .position(|p| p.id == part.id)
            .map(Place::Part);
        let try_way = |feed_end: usize, ground_end: usize| {
            let (feed_cost, feed) = self.walk(self.positive(), feed_end, load)?;
            let (ground_cost, ground) = self.walk(ground_end, 0, load)?;
            let before = feed.len();
            let mut steps = feed;
            steps.push((ground_end, load));
            steps.extend(ground.into_iter().skip(1));
            Some((feed_cost + ground_cost, steps, before))
        };
        let ways = [try_way(from, to), try_way(to, from)];
        let best = ways.into_iter().flatten().min_by_key(|(cost, ..)| *cost);
        best.map(|(_, steps, before)| (steps, before))
    }

    /// Cheapest way between two nodes, with its cost, over conductors, fuses, switches and contacts; through another
    /// load only where there is no other way, as with loads in series. Never through `own`.
    fn walk(&self, start: usize, end: usize, own: Option<Place>) -> Option<(usize, Vec<Step>)> {
        let mut neighbours: Vec<Vec<(usize, Place, usize)>> = vec![Vec::new(); self.nodes.len()];
        let mut join = |a: usize, b: usize, place: Place, cost: usize| {
            neighbours[a].push((b, place, cost));
            neighbours[b].push((a, place, cost));
        };
        for (n, c) in self.conductors.iter().enumerate() {
            join(c.a, c.b, Place::Conductor(n), 1);
        }
        for (n, part) in self.parts.iter().enumerate() {
            let place = Place::Part(n);
            for (a, b) in part.kind.contacts(&part.params) {
                join(part.nodes[a], part.nodes[b], place, 1);
            }
            if Some(place) != own {
                for (a, b) in part.loads() {
                    join(part.nodes[a], part.nodes[b], place, LOAD_COST);
                }
            }
        }
        let mut came: Vec<Option<Step>> = vec![None; self.nodes.len()];
        let mut cost = vec![usize::MAX; self.nodes.len()];
        let mut queue = BinaryHeap::from([(Reverse(0), start)]);
        cost[start] = 0;
        while let Some((Reverse(so_far), node)) = queue.pop() {
            // Zero and the positive post are ends of the road, not places to pass through.
            let is_end = node != start && (node == 0 || node == self.positive());
            if node == end || so_far > cost[node] || is_end {
                continue;
            }
            for &(next, place, step) in &neighbours[node] {
                if so_far + step < cost[next] {
                    cost[next] = so_far + step;
                    came[next] = Some((node, Some(place)));
                    queue.push((Reverse(cost[next]), next));
                }
            }
        }
        if cost[end] == usize::MAX {
            return None;
        }
        let mut steps = Vec::new();
        let mut at = end;
        while let Some((before, place)) = came[at] {
            steps.push((at, place));
            at = before;
        }
        steps.push((start, None));
        steps.reverse();
        Some((cost[end], steps))
    }
}
