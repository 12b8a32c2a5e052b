use cimento_tracks::*;
use std::fmt::Write;
use std::time::Instant;
fn svg(s: &Scene, title: &str) -> String {
    let mut o = format!("<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 {} {}' width='905' height='465' font-family='Atkinson Hyperlegible Next' font-size='9'><rect width='100%' height='100%' fill='#F6F1E7'/><title>{title}</title>", s.width, s.height);
    let p = |path: &[Spot]| path.iter().enumerate().map(|(n, q)| format!("{}{} {}", if n == 0 { "M" } else { "L" }, q.x, q.y)).collect::<String>();
    for w in &s.wires { write!(o, "<path d='{}' fill='none' stroke='#2f66a8' stroke-width='2.4'/>", p(&w.path)).unwrap(); }
    for w in &s.strokes { write!(o, "<path d='{}' fill='none' stroke='#1F2A33' stroke-width='{}' {}/>", p(&w.path), match w.kind { StrokeKind::Rail | StrokeKind::Metal=> 3.2, StrokeKind::Bar|StrokeKind::Strip|StrokeKind::Mount|StrokeKind::GroundRun => 2.4, _=>1.1}, if matches!(w.kind, StrokeKind::Row|StrokeKind::Moves) {"stroke-dasharray='3 2'"} else {""}).unwrap(); }
    for b in &s.boxes { write!(o, "<rect x='{}' y='{}' width='{}' height='{}' fill='#fff' stroke='#1F2A33'/>", b.x, b.y, b.width, b.height).unwrap(); }
    for y in &s.symbols { let (w,h)=match y.of {SymbolOf::Cavity=>(10.,4.), SymbolOf::Part=>(9.,18.), SymbolOf::Coil=>(16.,10.), _=>(14.,12.)}; write!(o, "<rect x='{}' y='{}' width='{w}' height='{h}' fill='{}' stroke='#1F2A33'/>", y.x-w/2., y.y-h/2., if y.turned {"#fbb"} else {"#eee"}).unwrap(); }
    for t in &s.tags { write!(o, "<path d='M{} {}h8l-4 {}z' fill='#B4602A'/>", t.x-4., t.y, if t.down {7} else {-7}).unwrap(); }
    for t in &s.texts { write!(o, "<text x='{}' y='{}' {}>{}</text>", t.x, t.y, if matches!(t.role, TextRole::Name|TextRole::Number) {"font-weight='700'"} else {""}, t.text).unwrap(); }
    for q in &s.points { write!(o, "<circle cx='{}' cy='{}' r='2.6' fill='#fff' stroke='#1F2A33'/>", q.x, q.y).unwrap(); }
    o + "</svg>"
}
fn main() {
    let mut all: Vec<_> = std::fs::read_dir("demo/circuits").unwrap().map(|e| e.unwrap().path()).collect();
    all.sort();
    let only = std::env::args().nth(1);
    let mut html = String::from("<style>@font-face{font-family:'Atkinson Hyperlegible Next';src:url(file:///work/main/web/node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-400-normal.woff2);font-weight:400}@font-face{font-family:'Atkinson Hyperlegible Next';src:url(file:///work/main/web/node_modules/@fontsource/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-700-normal.woff2);font-weight:700}body{margin:0}svg{display:block;margin-bottom:6px}</style>");
    let (mut total, mut crossings, mut cuts) = (0, 0, 0);
    for path in all {
        let name = path.file_stem().unwrap().to_string_lossy().into_owned();
        if only.as_ref().is_some_and(|o| !name.contains(o.as_str())) { continue; }
        let doc = cimento_model::circuit::read_json(&std::fs::read_to_string(&path).unwrap()).unwrap();
        let circuit = cimento_parts::build_circuit(doc).unwrap();
        let drawing = circuit.drawing();
        let t0 = Instant::now(); let flow = cimento_bench::flow(&circuit).unwrap(); let flowed = t0.elapsed();
        let began = Instant::now();
        let placement = place(&drawing, &flow);
        let took = began.elapsed();
        let cost = cost(&drawing, &flow, &placement);
        let small = draw(&drawing, &flow, &placement, Size { width: 905, height: 465, font: 14 });
        let large = draw(&drawing, &flow, &placement, Size { width: 1450, height: 800, font: 20 });
        html += &svg(&small, &name);
        let l = Legibility::of(&small);
        let m = Legibility::of(&large);
        println!("   {:?} W {} H {}", why(&drawing, &flow, &placement), small.width, small.height); total += cost.total; crossings += l.crossings; cuts += l.cuts;
        println!("{name:30} {} places {:2} px {:4.1} {:4.1} cross {} cuts {} turned {}:{:?} t/t {:?}{:?} t/l {:?}{:?} t/b {:?}{:?} out {:?}{:?} joints {:?} {:?} bends {}/{} {} {took:.0?} flow {flowed:.0?}", cost.forbidden, circuit.places().count(), l.text_px, m.text_px, l.crossings, l.cuts, cost.turned, l.turned, l.texts_on_texts, m.texts_on_texts, l.texts_on_lines, m.texts_on_lines, l.texts_on_boxes, m.texts_on_boxes, l.outside, m.outside, l.false_joints, m.false_joints, l.bends, l.wires, cost.total);
    }
    println!("total {total} crossings {crossings} cuts {cuts}");
    std::fs::write("/tmp/tracks.html", html).unwrap();
}
