//! What comes apart by hand, what is alike, and how long things take to reach.

use super::{Circuit, Part, Place};

/// Minutes to reach a connector whose document does not say; common practice.
const CONNECTOR_MINUTES: f64 = 2.0;
/// Longest way to a conductor of which no end can be reached: it is opened somewhere, in minutes; common
/// practice.
const BURIED_MINUTES: f64 = 30.0;

impl Circuit {
    /// What can be unplugged or pulled by hand: connectors, fuses, relays, the battery.
    pub fn comes_apart(&self) -> Vec<String> {
        let parts = self.parts.iter().filter(|p| p.kind.plugs_in());
        let connectors = self.doc.connectors.keys().cloned();
        let battery = self.parts.iter().filter(|p| p.kind.is_source());
        let parts = parts.chain(battery);
        connectors.chain(parts.map(|p| p.id.clone())).collect()
    }

    /// The connectors that one takes for another once both are apart: those with as many cavities.
    pub fn look_alikes(&self, connector: &str) -> Vec<String> {
        let all = &self.doc.connectors;
        let Some(own) = all.get(connector) else {
            return Vec::new();
        };
        let alike = all
            .iter()
            .filter(|(id, c)| *id != connector && c.cavities == own.cavities);
        alike.map(|(id, _)| id.clone()).collect()
    }

    /// Grounds whose ring terminals can be undone with a spanner.
    pub fn undone(&self) -> impl Iterator<Item = &String> {
        self.doc.grounds.keys()
    }

    /// Pairs of parts that are exchanged by hand, which the plan proposes: of one kind and rating, in sockets.
    pub fn alike(&self) -> Vec<[String; 2]> {
        self.pairs(|part| part.kind.plugs_in())
    }

    /// Pairs of parts that can be exchanged at all: coils, plugs, injectors, lamps, whatever is of one kind and rating.
    pub fn exchangeable(&self) -> Vec<[String; 2]> {
        self.pairs(|part| !part.kind.is_source() && part.is_tried_by_another())
    }

    fn pairs(&self, of: impl Fn(&Part) -> bool) -> Vec<[String; 2]> {
        let mut out = Vec::new();
        for (n, a) in self.parts.iter().enumerate().filter(|(_, p)| of(p)) {
            let like = self.parts[n + 1..].iter().filter(|b| a.is_like(b));
            out.extend(like.map(|b| [a.id.clone(), b.id.clone()]));
        }
        out
    }

    /// Minutes to reach a connector, part or ground; 0 for what is none.
    pub fn reach_minutes(&self, what: &str) -> f64 {
        let connector = self.doc.connectors.get(what);
        let connector = connector.map(|c| c.reach_minutes.unwrap_or(CONNECTOR_MINUTES));
        let part = self.part(what).map(|n| self.parts[n].reach_minutes);
        let ground = self.doc.grounds.get(what);
        let ground = ground.map(|g| g.reach_minutes.unwrap_or(CONNECTOR_MINUTES));
        connector.or(part).or(ground).unwrap_or(0.0)
    }

    /// Minutes to reach a place where it can be looked at.
    pub fn reach_minutes_of(&self, place: Place) -> f64 {
        match place {
            Place::Part(n) | Place::Pin(n, _) => self.parts[n].reach_minutes,
            Place::Conductor(n) => {
                let c = &self.conductors[n];
                let ends = [c.a, c.b].into_iter().filter_map(|node| {
                    let mut points = self.test_points.iter();
                    points.find(|p| p.node == node)
                });
                ends.map(|p| p.reach_minutes).fold(BURIED_MINUTES, f64::min)
            }
        }
    }
}
