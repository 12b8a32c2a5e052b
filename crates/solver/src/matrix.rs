//! The sparse system: its pattern is found once per structure, its values are written many times.

mod low_rank;

use std::cell::RefCell;
use std::sync::Arc;

use faer::Mat;
use faer::prelude::Solve;
use faer::sparse::linalg::LuError;
use faer::sparse::linalg::solvers::{Lu, SymbolicLu};
use faer::sparse::{SparseColMatRef, SymbolicSparseColMat};

use crate::LEAK_OHMS;
use crate::elements::Element;
use crate::netlist::Netlist;
use crate::node::Node;
use crate::stamper::Stamper;
use low_rank::LowRank;

/// Where an element's own unknowns begin, and what a structure is recognised by.
#[derive(Debug, Clone, PartialEq)]
struct Shape {
    nodes: usize,
    elements: Vec<(u8, [usize; 4])>,
}

impl Shape {
    fn of(net: &Netlist) -> Self {
        let elements = net.own().iter().map(shape_of);
        Self {
            nodes: net.node_count(),
            elements: elements.collect(),
        }
    }

    fn matches(&self, net: &Netlist) -> bool {
        self.nodes == net.node_count()
            && self.elements.len() == net.own().len()
            && net
                .own()
                .iter()
                .zip(&self.elements)
                .all(|(e, s)| shape_of(e) == *s)
    }
}

fn shape_of(element: &Element) -> (u8, [usize; 4]) {
    let ((a, b), (plus, minus)) = (element.nodes(), element.watched());
    (element.shape(), [a.0, b.0, plus.0, minus.0])
}

/// Pattern, symbolic factorisation and value buffer of one structure.
pub(crate) struct System {
    shape: Shape,
    pattern: SymbolicSparseColMat<usize>,
    symbolic: SymbolicLu<usize>,
    /// For the n-th write of a stamping pass, the place of its value.
    slots: Vec<usize>,
    /// First own unknown of each element.
    pub extras: Vec<usize>,
    pub size: usize,
    values: Vec<f64>,
    pub rhs: Vec<f64>,
    /// The elements whose values these are; empty where there are none.
    loaded: Vec<Element>,
    /// Column of each value; its row is in the pattern.
    columns: Vec<usize>,
    /// The last few factorisations, the one in use first.
    bases: Vec<Base>,
    /// What the loaded values differ by from the first base.
    update: Option<LowRank>,
}

/// A factorisation with the values it was made from.
struct Base {
    values: Vec<f64>,
    lu: Lu<usize, f64>,
    /// Columns of the inverse, kept as they are asked for: a circuit is solved many times with a
    /// few sources, a few ports and a few changed rows.
    inverse: RefCell<Vec<Option<Column>>>,
}

/// A column of an inverse.
pub(crate) type Column = Arc<[f64]>;

/// Up to this many sources a circuit is solved by columns of its inverse.
const MOST_SOURCES: usize = 6;

/// Volts or amperes that are as good as none where an equation's terms are measured.
const NOTHING: f64 = 1e-6;

/// Factorisations kept for one structure.
const BASES: usize = 6;
/// Up to this many changed rows a change is an update; beyond, factoring anew costs less.
const MOST_ROWS: usize = 4;
/// A base this near is near enough: looking for a nearer one costs more.
const CLOSE_ROWS: usize = 1;

impl System {
    /// Finds the pattern of a netlist by stamping it once.
    pub fn new(net: &Netlist) -> Result<Self, LuError> {
        let mut extras = Vec::with_capacity(net.own().len());
        let mut size = net.node_count() - 1;
        for element in net.own() {
            extras.push(size);
            size += element.unknowns();
        }
        let mut writes = Vec::new();
        stamp_all(&mut Pattern(&mut writes), net, &extras);
        let mut order: Vec<usize> = (0..writes.len()).collect();
        order.sort_unstable_by_key(|&n| (writes[n].1, writes[n].0));
        let (mut col_ptr, mut row_idx) = (vec![0usize; size + 1], Vec::new());
        let mut slots = vec![0; writes.len()];
        let mut last = None;
        for n in order {
            let (row, col) = writes[n];
            if last != Some((row, col)) {
                row_idx.push(row);
                col_ptr[col + 1] += 1;
                last = Some((row, col));
            }
            slots[n] = row_idx.len() - 1;
        }
        for col in 0..size {
            col_ptr[col + 1] += col_ptr[col];
        }
        let values = vec![0.0; row_idx.len()];
        let columns = (0..size).flat_map(|c| std::iter::repeat_n(c, col_ptr[c + 1] - col_ptr[c]));
        let columns = columns.collect();
        let pattern = SymbolicSparseColMat::new_checked(size, size, col_ptr, None, row_idx);
        let symbolic = SymbolicLu::try_new(pattern.as_ref()).map_err(LuError::Generic)?;
        Ok(Self {
            shape: Shape::of(net),
            pattern,
            symbolic,
            slots,
            extras,
            size,
            values,
            rhs: vec![0.0; size],
            loaded: Vec::new(),
            columns,
            bases: Vec::new(),
            update: None,
        })
    }

    /// Whether this system was made for a netlist of the same structure.
    pub fn fits(&self, net: &Netlist) -> bool {
        net.node_count() == self.shape.nodes && self.loaded == net.own() || self.shape.matches(net)
    }

    /// Writes all values, and factors them unless they are those of an earlier factorisation or differ
    /// from one in a few rows only.
    pub fn load(&mut self, net: &Netlist) -> Result<(), LuError> {
        if self.loaded == net.own() {
            return Ok(());
        }
        self.loaded.clear();
        self.values.fill(0.0);
        self.rhs.fill(0.0);
        let mut values = Values {
            slots: self.slots.iter(),
            values: &mut self.values,
            rhs: &mut self.rhs,
        };
        stamp_all(&mut values, net, &self.extras);
        self.update = None;
        self.find_base()?;
        self.loaded.extend_from_slice(net.own());
        Ok(())
    }

    /// Looks for a factorisation that serves the loaded values, or makes one.
    fn find_base(&mut self) -> Result<(), LuError> {
        if let Some((at, rows)) = self.nearest() {
            self.bases[..=at].rotate_right(1);
            if rows.is_empty() {
                return Ok(());
            }
            self.update = LowRank::new(self, &rows);
            if self.update.is_some() {
                return Ok(());
            }
        }
        self.factor()
    }

    /// Whether the loaded values are solved by updating an earlier factorisation.
    pub fn is_updated(&self) -> bool {
        self.update.is_some()
    }

    /// Factors the loaded values anew.
    pub fn factor(&mut self) -> Result<(), LuError> {
        self.update = None;
        let matrix = SparseColMatRef::new(self.pattern.as_ref(), &self.values);
        let lu = Lu::try_new_with_symbolic(self.symbolic.clone(), matrix)?;
        let values = self.values.clone();
        let inverse = RefCell::new(vec![None; self.size]);
        self.bases.truncate(BASES - 1);
        self.bases.insert(
            0,
            Base {
                values,
                lu,
                inverse,
            },
        );
        Ok(())
    }

    /// The base that differs from the loaded values in the fewest rows, with those rows, if they are
    /// few enough.
    fn nearest(&self) -> Option<(usize, Vec<usize>)> {
        let rows_of = self.pattern.row_idx();
        let mut best: Option<(usize, Vec<usize>)> = None;
        for (at, base) in self.bases.iter().enumerate() {
            let most = best.as_ref().map_or(MOST_ROWS + 1, |(_, rows)| rows.len());
            let mut rows: Vec<usize> = Vec::new();
            for (n, (old, new)) in base.values.iter().zip(&self.values).enumerate() {
                if old != new && !rows.contains(&rows_of[n]) {
                    rows.push(rows_of[n]);
                    if rows.len() >= most {
                        break;
                    }
                }
            }
            if rows.len() < most {
                let close = rows.len() <= CLOSE_ROWS;
                best = Some((at, rows));
                if close {
                    break;
                }
            }
        }
        best
    }

    /// Solves for several right-hand sides at once with the values last loaded.
    pub fn solve(&self, columns: &mut [Vec<f64>]) {
        self.solve_base(columns);
        if let Some(update) = &self.update {
            columns.iter_mut().for_each(|column| update.apply(column));
        }
    }

    /// Solves for a right-hand side with few entries, by row and value.
    pub fn solve_few(&self, entries: &[(usize, f64)]) -> Vec<f64> {
        let mut out = vec![0.0; self.size];
        for &(row, value) in entries {
            let column = self.column(row);
            out.iter_mut()
                .zip(column.iter())
                .for_each(|(x, c)| *x += value * c);
        }
        if let Some(update) = &self.update {
            update.apply(&mut out);
        }
        out
    }

    /// Some entries of a column of the inverse, with the values last loaded.
    pub fn entries(&self, column: usize, rows: &[usize], out: &mut Vec<f64>) {
        let y = self.column(column);
        out.clear();
        out.extend(rows.iter().map(|row| y[*row]));
        if let Some(update) = &self.update {
            update.apply_at(&y, rows, out);
        }
    }

    /// Solves for the sources that are loaded.
    pub fn solve_sources(&self) -> Vec<f64> {
        let sources = self.rhs.iter().enumerate().filter(|(_, v)| **v != 0.0);
        let entries: Vec<(usize, f64)> = sources.map(|(row, v)| (row, *v)).collect();
        if entries.len() <= MOST_SOURCES {
            return self.solve_few(&entries);
        }
        let mut columns = [self.rhs.clone()];
        self.solve(&mut columns);
        let [x] = columns;
        x
    }

    /// A column of the first base's inverse.
    fn column(&self, row: usize) -> Column {
        let Some(base) = self.bases.first() else {
            return Arc::from(vec![0.0; self.size]);
        };
        if let Some(column) = &base.inverse.borrow()[row] {
            return Arc::clone(column);
        }
        let mut x = Mat::zeros(self.size, 1);
        x[(row, 0)] = 1.0;
        base.lu.solve_in_place(x.as_mut());
        let column: Column = (0..self.size).map(|i| x[(i, 0)]).collect();
        base.inverse.borrow_mut()[row] = Some(Arc::clone(&column));
        column
    }

    /// The same with the first base's values.
    fn solve_base(&self, columns: &mut [Vec<f64>]) {
        let Some(base) = self.bases.first() else {
            return;
        };
        let mut x = Mat::from_fn(self.size, columns.len(), |i, j| columns[j][i]);
        base.lu.solve_in_place(x.as_mut());
        for (j, column) in columns.iter_mut().enumerate() {
            for (i, value) in column.iter_mut().enumerate() {
                *value = x[(i, j)];
            }
        }
    }

    /// `b − A·x` of a netlist of this structure, and by row the size of the terms it is made of. A conductance
    /// counts by the difference of its voltages: in the matrix, the leak of a wire is lost among the digits of the
    /// cable it hangs on.
    pub fn residual(&self, net: &Netlist, x: &[f64]) -> (Vec<f64>, Vec<f64>) {
        let (mut miss, mut terms) = (vec![0.0; self.size], vec![0.0; self.size]);
        let mut residual = Residual {
            x,
            miss: &mut miss,
            terms: &mut terms,
        };
        stamp_all(&mut residual, net, &self.extras);
        (miss, terms)
    }

    /// The element whose equation a row is; for a node's row, one that touches the node.
    pub fn element_of(&self, net: &Netlist, row: usize) -> usize {
        let nodes = net.node_count() - 1;
        let found = if row >= nodes {
            self.extras.iter().rposition(|&first| first <= row)
        } else {
            net.own().iter().position(|e| {
                let (a, b) = e.nodes();
                a.0 == row + 1 || b.0 == row + 1
            })
        };
        found.unwrap_or(0)
    }
}

fn stamp_all(s: &mut impl Stamper, net: &Netlist, extras: &[usize]) {
    for node in 0..net.node_count() - 1 {
        s.entry(node, node, 1.0 / LEAK_OHMS);
    }
    for (element, &extra) in net.own().iter().zip(extras) {
        element.stamp(s, extra);
    }
}

/// Writes down which entries there are.
struct Pattern<'a>(&'a mut Vec<(usize, usize)>);

impl Stamper for Pattern<'_> {
    fn entry(&mut self, row: usize, col: usize, _: f64) {
        self.0.push((row, col));
    }

    fn rhs(&mut self, _: usize, _: f64) {}
}

/// Writes the values into the places that were found for them.
struct Values<'a> {
    slots: std::slice::Iter<'a, usize>,
    values: &'a mut [f64],
    rhs: &'a mut [f64],
}

impl Stamper for Values<'_> {
    fn entry(&mut self, _: usize, _: usize, value: f64) {
        if let Some(&slot) = self.slots.next() {
            self.values[slot] += value;
        }
    }

    fn rhs(&mut self, row: usize, value: f64) {
        self.rhs[row] += value;
    }
}

/// Takes what is written from the right-hand side, at some unknowns.
struct Residual<'a> {
    x: &'a [f64],
    miss: &'a mut [f64],
    /// Of each row the size of the terms it is made of.
    terms: &'a mut [f64],
}

impl Stamper for Residual<'_> {
    fn entry(&mut self, row: usize, col: usize, value: f64) {
        let x = self.x[col];
        self.miss[row] -= value * x;
        self.terms[row] += value.abs() * x.abs().max(NOTHING);
    }

    fn rhs(&mut self, row: usize, value: f64) {
        self.miss[row] += value;
        self.terms[row] += value.abs();
    }

    fn conductance(&mut self, a: Node, b: Node, siemens: f64) {
        let volts = |node: Node| if node.0 > 0 { self.x[node.0 - 1] } else { 0.0 };
        let (va, vb) = (volts(a), volts(b));
        for (node, sign) in [(a, -1.0), (b, 1.0)] {
            if node.0 > 0 {
                self.miss[node.0 - 1] += sign * siemens * (va - vb);
                self.terms[node.0 - 1] += siemens * (va.abs() + vb.abs() + NOTHING);
            }
        }
    }
}
