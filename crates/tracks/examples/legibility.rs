//! How well the diagrams of the demo and of twenty made-up circuits can be read:
//! `cargo run --release -p cimento-tracks --example legibility`, with `--html FILE` to look at them.

#![allow(clippy::unwrap_used)]

#[path = "../tests/tracks/common.rs"]
mod common;

use std::time::Instant;

use cimento_tracks::{Legibility, Scene, Spot, TextRole, cost, draw, place};

fn main() {
    let args: Vec<String> = std::env::args().collect();
    let file = args
        .iter()
        .position(|a| a == "--html")
        .and_then(|n| args.get(n + 1));
    let made_up = (0..20_u64).map(|n| {
        let parts = 10 + 140 * n as usize / 19;
        (
            format!("made up, {parts} parts"),
            common::generated(parts, n + 1),
        )
    });
    let mut page = String::from("<!doctype html><meta charset=utf-8>");
    let mut all = Totals::default();
    println!(
        "| circuit | places | text at 905 × 465 / 1450 × 800, px | overlaps | crossings | cut | bends | upside down | s |"
    );
    println!("|---|---|---|---|---|---|---|---|---|");
    let demo = common::demo();
    let count = demo.len();
    for (n, (name, circuit)) in demo.into_iter().chain(made_up).enumerate() {
        let drawing = circuit.drawing();
        let flow = cimento_bench::flow(&circuit).unwrap_or_default();
        let began = Instant::now();
        let placement = place(&drawing, &flow);
        let took = began.elapsed().as_secs_f64();
        let [small, large] =
            [common::SHEET, common::WALL].map(|size| draw(&drawing, &flow, &placement, size));
        let [a, b] = [&small, &large].map(Legibility::of);
        let overlaps = |l: &Legibility| {
            l.texts_on_texts.len()
                + l.texts_on_lines.len()
                + l.texts_on_boxes.len()
                + l.false_joints.len()
                + l.outside.len()
        };
        let turned = cost(&drawing, &flow, &placement).turned;
        println!(
            "| {name} | {} | {:.1} / {:.1} | {} | {} | {} | {} of {} | {turned} | {took:.2} |",
            circuit.places().count(),
            a.text_px,
            b.text_px,
            overlaps(&a) + overlaps(&b),
            a.crossings,
            a.cuts,
            a.bends,
            a.wires,
        );
        if n < count {
            all.add(&a, overlaps(&a) + overlaps(&b), turned);
        }
        page += &format!("<p>{name}</p>{}", svg(&small));
    }
    println!(
        "| **the demo's** | | | {} | {} | {} | {} of {} | {} | |",
        all.overlaps, all.crossings, all.cuts, all.bends, all.wires, all.turned
    );
    if let Some(file) = file {
        std::fs::write(file, page).unwrap();
    }
}

#[derive(Default)]
struct Totals {
    overlaps: usize,
    crossings: usize,
    cuts: usize,
    bends: usize,
    wires: usize,
    turned: i64,
}

impl Totals {
    fn add(&mut self, l: &Legibility, overlaps: usize, turned: i64) {
        self.overlaps += overlaps;
        self.crossings += l.crossings;
        self.cuts += l.cuts;
        self.bends += l.bends;
        self.wires += l.wires;
        self.turned += turned;
    }
}

/// A plain drawing, without the page's symbols and colours.
fn svg(scene: &Scene) -> String {
    let path = |spots: &[Spot]| {
        spots
            .iter()
            .map(|s| format!("{} {}", s.x, s.y))
            .collect::<Vec<_>>()
            .join("L")
    };
    let mut out = format!(
        "<svg width=905 height=465 viewBox='0 0 {} {}' font-family='Atkinson Hyperlegible Next' font-size=9>",
        scene.width, scene.height
    );
    for wire in &scene.wires {
        out += &format!(
            "<path d='M{}' fill=none stroke=steelblue stroke-width=2.4 />",
            path(&wire.path)
        );
    }
    for stroke in &scene.strokes {
        out += &format!(
            "<path d='M{}' fill=none stroke=black />",
            path(&stroke.path)
        );
    }
    for b in &scene.boxes {
        out += &format!(
            "<rect x={} y={} width={} height={} fill=white stroke=black />",
            b.x, b.y, b.width, b.height
        );
    }
    for s in &scene.symbols {
        out += &format!(
            "<rect x={} y={} width=12 height=12 fill=lightgrey />",
            s.x - 6.0,
            s.y - 6.0
        );
    }
    for t in &scene.texts {
        let weight = if matches!(t.role, TextRole::Name | TextRole::Number) {
            700
        } else {
            400
        };
        out += &format!(
            "<text x={} y={} font-weight={weight}>{}</text>",
            t.x,
            t.y,
            t.text.replace('<', "&lt;")
        );
    }
    out + "</svg>"
}
