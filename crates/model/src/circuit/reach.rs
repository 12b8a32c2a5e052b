//! What comes apart by hand, what is alike, and how long things take to reach.

use super::{Circuit, Place};

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

    /// Pairs of parts that can be exchanged: of one kind and rating.
    pub fn alike(&self) -> Vec<[String; 2]> {
        let parts = &self.parts;
        let mut out = Vec::new();
        for (n, a) in parts.iter().enumerate().filter(|(_, p)| p.kind.plugs_in()) {
            for b in &parts[n + 1..] {
                if a.kind.kind() == b.kind.kind() && a.params == b.params {
                    out.push([a.id.clone(), b.id.clone()]);
                }
            }
        }
        out
    }

    /// Minutes to reach a connector or part; 0 for what is neither.
    pub fn reach_minutes(&self, what: &str) -> f64 {
        let connector = self.doc.connectors.get(what);
        let connector = connector.map(|c| c.reach_minutes.unwrap_or(CONNECTOR_MINUTES));
        let part = self.part(what).map(|n| self.parts[n].reach_minutes);
        connector.or(part).unwrap_or(0.0)
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
