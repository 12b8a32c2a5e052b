//! What is joined as by a wire.

use cimento_model::stamped::Role;
use cimento_solver::Element;

use super::settle::Point;

impl Point {
    /// The nodes that are joined to one by conductors and closed contacts of at most so many ohms each, itself among
    /// them.
    pub fn joined(&self, node: usize, ohms: f64) -> Vec<usize> {
        let tags = self.wiring.tags().iter();
        let joins = tags.filter(|tag| matches!(tag.role, Role::Conductor | Role::Contact));
        let links: Vec<[usize; 2]> = joins
            .filter_map(|tag| match self.wiring.net.element(tag.element) {
                Element::Branch {
                    a, b, ohms: has, ..
                } => (*has <= ohms).then(|| [a.index(), b.index()]),
                _ => None,
            })
            .collect();
        let mut near = vec![node];
        let mut next = 0;
        while let Some(&at) = near.get(next) {
            next += 1;
            for [a, b] in &links {
                for (from, to) in [(*a, *b), (*b, *a)] {
                    if from == at && !near.contains(&to) {
                        near.push(to);
                    }
                }
            }
        }
        near
    }
}
