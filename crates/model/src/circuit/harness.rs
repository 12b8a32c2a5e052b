//! The check sheet of a harness: with every connector apart and every part off, each run from one end to
//! another, with what an ohmmeter must find along it.

use crate::text::inert;
use std::collections::{HashMap, HashSet, VecDeque};

use serde::{Deserialize, Serialize};
use utoipa::ToSchema;

use super::{Circuit, ConductorKind};

/// One run.
#[derive(Debug, Clone, PartialEq, Serialize, Deserialize, ToSchema)]
pub struct HarnessRun {
    pub harness: String,
    /// `C12.4f`, `K3.86`, `G4`.
    pub from: String,
    pub to: String,
    /// Wires and splices passed, in order.
    pub through: Vec<String>,
    /// Colours of the wires passed, each once.
    pub colors: Vec<String>,
    /// Least area on the way, in mm²; absent where no wire has one.
    pub area_mm2: Option<f64>,
    /// Resistance to expect at 20 °C, in ohms.
    pub ohms: f64,
}

impl Circuit {
    /// Every run of every harness: from the first end of what hangs together to each of its other ends.
    pub fn harness_runs(&self) -> Vec<HarnessRun> {
        let mut joins: HashMap<usize, Vec<(usize, usize)>> = HashMap::new();
        let mut ends = Vec::new();
        for (n, c) in self.conductors.iter().enumerate() {
            if matches!(c.kind, ConductorKind::Wire | ConductorKind::Splice) {
                joins.entry(c.a).or_default().push((n, c.b));
                joins.entry(c.b).or_default().push((n, c.a));
                ends.extend([c.a, c.b]);
            }
        }
        let inside: HashSet<usize> = self
            .conductors
            .iter()
            .filter(|c| c.kind == ConductorKind::Splice)
            .flat_map(|c| [c.a, c.b])
            .collect();
        let (mut seen, mut out) = (HashSet::new(), Vec::new());
        for start in ends.into_iter().filter(|n| !inside.contains(n)) {
            if !seen.insert(start) {
                continue;
            }
            let mut ways: VecDeque<(usize, Vec<usize>)> = VecDeque::from([(start, Vec::new())]);
            while let Some((node, way)) = ways.pop_front() {
                for &(conductor, next) in &joins[&node] {
                    if next == start || !seen.insert(next) {
                        continue;
                    }
                    let mut on = way.clone();
                    on.push(conductor);
                    if !inside.contains(&next) {
                        out.push(self.run(start, next, &on));
                    }
                    ways.push_back((next, on));
                }
            }
        }
        out
    }

    fn run(&self, from: usize, to: usize, way: &[usize]) -> HarnessRun {
        let passed = way.iter().map(|n| &self.conductors[*n]);
        let wires = passed.clone().filter_map(|c| {
            let mut wires = self.doc.wires.iter();
            wires.find(|w| w.id == c.id)
        });
        let mut colors: Vec<String> = wires
            .clone()
            .filter_map(|w| w.color.clone().map(String::from))
            .collect();
        colors.dedup();
        let area = |w: &super::WireDoc| w.area_mm2.or(w.awg.map(crate::units::awg_area_mm2));
        HarnessRun {
            harness: passed
                .clone()
                .find_map(|c| c.harness.clone())
                .unwrap_or_default(),
            from: self.nodes[from].clone(),
            to: self.nodes[to].clone(),
            through: passed.clone().map(|c| c.id.clone()).collect(),
            colors,
            area_mm2: wires.filter_map(area).min_by(f64::total_cmp),
            ohms: passed.map(|c| c.ohms).sum(),
        }
    }
}

/// The runs as CSV.
pub fn write_harness_sheet(runs: &[HarnessRun]) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    // Writing to memory does not fail.
    let _ = out.write_record([
        "harness", "from", "to", "through", "colors", "area_mm2", "ohms", "checked",
    ]);
    for run in runs {
        let area = run.area_mm2.map(|a| format!("{a:.2}")).unwrap_or_default();
        let _ = out.write_record([
            &inert(&run.harness),
            &run.from,
            &run.to,
            &run.through.join(" "),
            &run.colors.join(" "),
            &area,
            &format!("{:.4}", run.ohms),
            "",
        ]);
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}
