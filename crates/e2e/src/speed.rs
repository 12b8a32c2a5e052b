//! How quick the page is on a machine of 61 parts and over a slow line: `cargo run -p cimento-e2e -- speed`.

use cimento_e2e::{Browser, Result, Server};
use serde_json::{Value, json};

/// Lamp branches of the made-up machine, three parts each.
const BRANCHES: usize = 20;
const READINGS: usize = 40;

/// A battery that feeds some lamps, each with a fuse and a switch of its own.
fn machine() -> Value {
    let mut parts = json!({"BAT": {"kind": "battery", "params": {"rest_v": 12.6, "cca_a": 600.0}}});
    let mut wires = vec![
        json!({"id": "W0", "from": "BAT.-", "to": "G0", "area_mm2": 16.0, "length_m": 0.4, "color": "BK"}),
    ];
    let mut grounds = json!({"G0": {"metal": "body"}});
    for n in 1..=BRANCHES {
        parts[format!("F{n}")] = json!({"kind": "fuse", "params": {"rating_a": 10.0}});
        parts[format!("S{n}")] = json!({"kind": "switch", "control": format!("lamp {n}")});
        parts[format!("H{n}")] = json!({"kind": "lamp", "params": {"rated_w": 21.0}});
        grounds[format!("G{n}")] = json!({"metal": "body"});
        let hops = [
            ("a", "BAT.+".to_owned(), format!("F{n}.1")),
            ("b", format!("F{n}.2"), format!("S{n}.1")),
            ("c", format!("S{n}.2"), format!("H{n}.1")),
            ("d", format!("H{n}.2"), format!("G{n}")),
        ];
        wires.extend(hops.map(|(letter, from, to)| json!({"id": format!("W{n}{letter}"), "from": from, "to": to, "area_mm2": 1.0, "length_m": 1.5, "color": "RD"})));
    }
    json!({"format": "cimento/circuit", "version": 1, "title": "Sixty-one parts", "system_v": 12.0, "parts": parts, "grounds": grounds, "wires": wires})
}

/// Asks the API from the page.
async fn ask(b: &Browser, path: &str, body: &Value) -> Result<Value> {
    let script = r"
        const [path, body, done] = arguments;
        fetch(path, { method: 'POST', headers: { 'Content-Type': 'application/json' }, body: JSON.stringify(body) })
            .then((r) => r.text()).then((t) => done(JSON.parse(t))).catch((e) => done({ error: String(e) }));
    ";
    Ok(b.client
        .execute_async(script, vec![json!(path), body.clone()])
        .await?)
}

/// Milliseconds from each of some clicks until an element's text has changed and been drawn.
async fn clicks(
    b: &Browser,
    before: &str,
    click: &str,
    watch: &str,
    count: usize,
) -> Result<Vec<f64>> {
    // The page's policy forbids `eval`, so what is done is part of the script itself.
    let script = r"
        const [watch, n, done] = arguments;
        const look = () => document.querySelector(watch)?.textContent;
        BEFORE(n);
        setTimeout(() => {
            const was = look();
            const start = performance.now();
            CLICK(n);
            const wait = () => {
                if (look() !== was) requestAnimationFrame(() => done(performance.now() - start));
                else if (performance.now() - start > 20000) done(-1);
                else setTimeout(wait, 1);
            };
            wait();
        }, 120);
    ";
    let script = script
        .replace("BEFORE", &format!("({before})"))
        .replace("CLICK", &format!("({click})"));
    let mut out = Vec::new();
    for n in 0..count {
        let args = vec![json!(watch), json!(n)];
        out.push(
            b.client
                .execute_async(&script, args)
                .await?
                .as_f64()
                .unwrap_or(-1.0),
        );
    }
    Ok(out)
}

fn print(what: &str, mut ms: Vec<f64>) {
    ms.sort_by(f64::total_cmp);
    let at = |share: f64| ms[((ms.len() - 1) as f64 * share).round() as usize];
    println!(
        "{what}: median {:.0} ms, 95th percentile {:.0} ms, worst {:.0} ms of {}",
        at(0.5),
        at(0.95),
        at(1.0),
        ms.len()
    );
}

pub async fn measure() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("speed.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    let made = ask(&b, "/api/circuits", &json!({"text": machine().to_string()})).await?;
    let circuit = made["id"]
        .as_i64()
        .ok_or_else(|| format!("no circuit: {made}"))?;
    // The fault bench: another state, and another fault.
    let mut faults = Vec::new();
    b.go(&format!("/circuits/{circuit}/fault-bench")).await?;
    b.css("[data-point='H1.1']").await?;
    let state = "(n) => { const s = document.querySelector(\"[aria-label='Show state']\"); const all = [...s.options].slice(1); s.value = all[n % all.length].value; s.dispatchEvent(new Event('change', { bubbles: true })); }";
    print(
        "fault bench, 61 parts, another state",
        clicks(
            &b,
            "(n) => { const s = document.querySelector(\"[aria-label='Show state']\"); s.value = s.options[0].value; s.dispatchEvent(new Event('change', { bubbles: true })); }",
            state,
            ".diagram svg",
            20,
        )
        .await?,
    );
    for n in 1..=6 {
        b.pick("fault-place", &format!("W{n}b")).await?;
        b.pick("fault-mode", "broken").await?;
        let add = "(n) => document.querySelector('#fault-add').click()";
        let once = clicks(&b, "(n) => undefined", add, "h1", 1).await?;
        faults.extend(once);
        b.click_xpath("//button[normalize-space()='Take out']")
            .await?;
        b.wait_text("h1", "Healthy").await?;
    }
    print("fault bench, 61 parts, another fault", faults);
    let lesson = json!({"title": "Speed", "complaint": "One stays dark.", "circuit": circuit, "faults": [{"place": "W7b", "mode": "open"}], "predictions": false});
    let lesson = ask(&b, "/api/lessons", &lesson).await?;
    let given = ask(
        &b,
        "/api/assignments",
        &json!({"class": 1, "lesson": lesson["id"], "students": [2]}),
    )
    .await?;
    let attempt = given["attempts"][0]
        .as_i64()
        .ok_or_else(|| format!("no attempt: {given}"))?;

    // What marks the attempt later is worked out on a core of its own: wait for it.
    b.go(&format!("/api/lessons/{}/prospect", lesson["id"]))
        .await?;
    b.close().await?;

    // The student's bench: from the click to the drawn reading.
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.go(&format!("/attempts/{attempt}")).await?;
    b.css("[data-point='H1.1']").await?;
    let put = "(n) => document.querySelector(`[data-point='H${1 + n % 20}.1']`).dispatchEvent(new MouseEvent('click', { bubbles: true }))";
    let read = "(n) => document.querySelector('#take-reading').click()";
    print(
        "bench, 61 parts, reading to display",
        clicks(&b, put, read, "[aria-label='Readings']", READINGS).await?,
    );
    b.open_work("Baggage tug dies as the key is let go").await?;
    b.css("[data-point='T1.1']").await?;
    b.click_xpath("//div[@data-control='key']//*[normalize-space()='start']")
        .await?;
    b.wait_text("#notices", "fires").await?;
    b.click("#open-scope").await?;
    b.pick("scope-channels", "pickup round W12").await?;
    b.press("\u{e00c}").await?;
    b.choose_pattern("W12", "5 kV to").await?;
    b.fill("#scope-level", "-2000").await?;
    b.fill("[aria-label='Edge']", "falling\u{e007}").await?;
    b.click("#scope-capture").await?;
    b.css("#scope svg[role=img]").await?;
    let again = r"(n) => {
        const all = [...document.querySelectorAll('.pattern')];
        all.find((p) => p.textContent.includes('5 kV to')).querySelector('input').click();
    }";
    let capture = "(n) => document.querySelector('#scope-capture').click()";
    print(
        "bench, points ignition, screen of the oscilloscope",
        clicks(&b, again, capture, ".top", 12).await?,
    );
    b.close().await?;

    // A cold cache over 10 Mbit/s with 40 ms there and back.
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.throttle(10e6, 40).await?;
    let mut loads = Vec::new();
    for _ in 0..5 {
        let start = std::time::Instant::now();
        b.go(&format!("/attempts/{attempt}?cold={}", loads.len()))
            .await?;
        b.css("#take-reading").await?;
        let shown = start.elapsed().as_secs_f64();
        b.css("[data-point='H1.1']").await?;
        loads.push((shown, start.elapsed().as_secs_f64()));
    }
    loads.sort_by(|a, b| a.0.total_cmp(&b.0));
    let (shown, drawn) = loads[loads.len() / 2];
    println!(
        "bench on a cold cache at 10 Mbit/s: meter after {shown:.2} s, diagram after {drawn:.2} s (median of 5)"
    );
    let sent = b.client.execute("return performance.getEntriesByType('resource').filter((r) => r.initiatorType === 'script' || r.name.endsWith('.js')).map((r) => [r.name.split('/').pop(), r.encodedBodySize])", vec![]).await?;
    let sizes = sent.as_array().cloned().unwrap_or_default();
    let sum: f64 = sizes.iter().filter_map(|s| s[1].as_f64()).sum();
    println!(
        "JavaScript sent for the bench, compressed: {:.0} kB in {} files: {}",
        sum / 1000.0,
        sizes.len(),
        sent
    );
    b.close().await
}
