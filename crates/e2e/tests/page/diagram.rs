//! The diagram: a place that is chosen lights up everywhere, by mouse, touch and keyboard, and its texts can be read.

use std::time::Duration;

use cimento_e2e::{Browser, Result, Server};
use fantoccini::actions::{
    InputSource, MOUSE_BUTTON_LEFT, MouseActions, PointerAction, TouchActions,
};
use serde_json::Value;

async fn school() -> Result<(tempfile::TempDir, Server)> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    Ok((folder, server))
}

/// Where something of the diagram is on the screen, in pixels: the middle of a wire, or a test point.
pub(super) async fn on_screen(b: &Browser, css: &str) -> Result<(i64, i64)> {
    b.css(css).await?;
    let script = "
        const g = document.querySelector(arguments[0]);
        const wire = g.querySelector('path');
        const at = wire ? wire.getPointAtLength(wire.getTotalLength() / 2) : { x: 0, y: 0 };
        const p = new DOMPoint(at.x, at.y).matrixTransform(g.getScreenCTM());
        return [Math.round(p.x), Math.round(p.y)];";
    let at = b.client.execute(script, vec![Value::from(css)]).await?;
    Ok((at[0].as_i64().unwrap(), at[1].as_i64().unwrap()))
}

fn press(x: i64, y: i64) -> [PointerAction; 4] {
    let duration = Some(Duration::from_millis(10));
    [
        PointerAction::MoveTo {
            duration,
            x: x as f64,
            y: y as f64,
        },
        PointerAction::Down {
            button: MOUSE_BUTTON_LEFT,
        },
        PointerAction::Pause {
            duration: Duration::from_millis(20),
        },
        PointerAction::Up {
            button: MOUSE_BUTTON_LEFT,
        },
    ]
}

pub(super) async fn by_mouse(b: &Browser, (x, y): (i64, i64)) -> Result<()> {
    let actions = press(x, y)
        .into_iter()
        .fold(MouseActions::new("mouse".into()), |all, a| all.then(a));
    Ok(b.client.perform_actions(actions).await?)
}

pub(super) async fn by_touch(b: &Browser, (x, y): (i64, i64)) -> Result<()> {
    let actions = press(x, y)
        .into_iter()
        .fold(TouchActions::new("finger".into()), |all, a| all.then(a));
    Ok(b.client.perform_actions(actions).await?)
}

#[tokio::test(flavor = "multi_thread")]
async fn a_chosen_place_lights_up_everywhere() -> Result<()> {
    let (_folder, server) = school().await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    // By mouse: a wire says what it is, its chip lights up, and it is ruled out from there.
    let wire = on_screen(&b, "[data-wire='W8']").await?;
    by_mouse(&b, wire).await?;
    b.css("[data-lit='W8']").await?;
    b.wait_text(".place-card .words", "C12.4f to C14.1m")
        .await?;
    b.wait_text(".chip.lit", "W8").await?;
    b.click("#card-suspect").await?;
    b.css("[data-suspected='W8']").await?;
    // Elsewhere on the page: a chip lights the diagram up.
    b.click_xpath("//*[contains(@class, 'chip')][.='S2']")
        .await?;
    b.css("[data-lit='S2']").await?;
    // By touch: a finger beside a test point reaches it, and puts the lead there.
    let (x, y) = on_screen(&b, "[data-point='K3.86']").await?;
    by_touch(&b, (x + 9, y + 7)).await?;
    b.wait_text(".place-card .words", "K3.86").await?;
    let label = b.attr("[data-point='K3.86']", "aria-label").await?;
    assert!(label.contains("red lead"), "{label}");
    // By keyboard: a point is reached, chosen and let go of again.
    b.client
        .execute(
            "document.querySelector(\"[data-point='C12.4f']\").focus()",
            vec![],
        )
        .await?;
    b.press("\u{e007}").await?;
    b.client
        .execute("document.activeElement.blur()", vec![])
        .await?;
    b.press("\u{e00c}").await?;
    b.settle().await;
    let lit = "return document.querySelectorAll(\"[data-lit='C12.4f']\").length";
    assert_eq!(b.client.execute(lit, vec![]).await?, Value::from(0));
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_view_is_moved_by_keys_and_wheel() -> Result<()> {
    let (_folder, server) = school().await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    b.css("[data-point='K3.86']").await?;
    let focus = "document.querySelector(\"[data-point='K3.86']\").focus()";
    b.client.execute(focus, vec![]).await?;
    b.press("+").await?;
    b.css(".overview").await?;
    let before = on_screen(&b, "[data-point='K3.86']").await?;
    b.press("\u{e014}").await?;
    b.settle().await;
    assert!(on_screen(&b, "[data-point='K3.86']").await?.0 < before.0);
    b.press("0").await?;
    b.settle().await;
    let small = "return document.querySelectorAll('.overview').length";
    assert_eq!(b.client.execute(small, vec![]).await?, Value::from(0));
    let wheel = "document.querySelector('svg.drawn').dispatchEvent(new WheelEvent('wheel', { deltaY: -300, clientX: 300, clientY: 300, bubbles: true, cancelable: true }))";
    b.client.execute(wheel, vec![]).await?;
    b.css(".overview").await?;
    b.close().await
}

/// A page that grows while the network is cut, or after the server was started anew, keeps its diagram, and has it anew as
/// soon as it can.
/// A drag from one spot to another.
fn drag(from: (i64, i64), to: (i64, i64)) -> Vec<PointerAction> {
    let at = |(x, y): (i64, i64)| PointerAction::MoveTo {
        duration: Some(Duration::from_millis(60)),
        x: x as f64,
        y: y as f64,
    };
    let (down, up) = (
        PointerAction::Down {
            button: MOUSE_BUTTON_LEFT,
        },
        PointerAction::Up {
            button: MOUSE_BUTTON_LEFT,
        },
    );
    vec![at(from), down, at(to), up]
}

/// A frame round the start relay chooses what is in it, by mouse and by finger; the diagram stays where it was.
#[tokio::test(flavor = "multi_thread")]
async fn several_places_are_chosen_with_a_frame() -> Result<()> {
    let (_folder, server) = school().await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    let (x, y) = on_screen(&b, "[data-point='K3.86']").await?;
    for finger in [false, true] {
        b.click("#choose-area").await?;
        let before = b.attr("svg.drawn > g", "transform").await?;
        let actions = drag((x + 30, y - 60), (x - 150, y + 70));
        match finger {
            false => {
                let all = actions.into_iter();
                let mouse = all.fold(MouseActions::new("band".to_owned()), |m, a| m.then(a));
                b.client.perform_actions(mouse).await?;
            }
            true => {
                let all = actions.into_iter();
                let touch = all.fold(TouchActions::new("finger".to_owned()), |m, a| m.then(a));
                b.client.perform_actions(touch).await?;
            }
        }
        // More than the field has room for.
        b.wait_text(".claims", "+ ").await?;
        let ready = b.attr("#choose-area", "aria-pressed").await?;
        assert_eq!(ready, "false", "one frame at a time");
        assert_eq!(b.attr("svg.drawn > g", "transform").await?, before);
        let (claim, shows) = match finger {
            false => ("#suspect-places", "[data-suspected='K3']"),
            true => ("#clear-places", "[data-cleared='K3']"),
        };
        b.click(claim).await?;
        b.css(shows).await?;
        b.settle().await;
    }
    b.close().await
}

/// In the workshop a frame round wires puts one connector across them, and that is undone by a key.
#[tokio::test(flavor = "multi_thread")]
async fn a_connector_goes_across_the_wires_in_a_frame() -> Result<()> {
    let (_folder, server) = school().await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    b.go("/circuits/1/workshop").await?;
    let (x, y) = on_screen(&b, "[data-point='K3.86']").await?;
    let wires = "return document.querySelectorAll('.workshop tbody tr').length";
    let before = b.client.execute(wires, vec![]).await?;
    let actions = drag((x + 60, y - 120), (x - 160, y + 160)).into_iter();
    b.click("#choose-area").await?;
    let mouse = actions.fold(MouseActions::new("band".to_owned()), |m, a| m.then(a));
    b.client.perform_actions(mouse).await?;
    b.wait_text("#connector-across", "Connector across W")
        .await?;
    b.click("#connector-across").await?;
    b.settle().await;
    let after = b.client.execute(wires, vec![]).await?;
    assert!(after.as_i64() > before.as_i64(), "{before} {after}");
    b.press("z").await?;
    b.settle().await;
    assert_eq!(b.client.execute(wires, vec![]).await?, before);
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn the_diagram_outlives_the_network_and_the_server() -> Result<()> {
    let (_folder, server) = school().await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    b.css("[data-point='K3.86']").await?;
    let points = "return document.querySelectorAll('svg.drawn [data-point]').length";
    let all = b.client.execute(points, vec![]).await?;
    let grown = |width: u32| b.client.set_window_size(width, 900);
    b.cut(true).await?;
    grown(1500).await?;
    b.settle().await;
    assert_eq!(b.client.execute(points, vec![]).await?, all);
    b.cut(false).await?;
    let server = server.kill_and_restart().await?;
    b.client
        .execute("performance.clearResourceTimings()", vec![])
        .await?;
    grown(1700).await?;
    // Laid out for the new width, by a server that had never heard of it.
    let had = "return performance.getEntriesByType('resource')
        .some(e => e.name.includes('/api/diagrams/') && e.responseStatus === 200)";
    let mut tries = 0;
    while b.client.execute(had, vec![]).await? != true {
        tries += 1;
        assert!(tries < 100, "the diagram was never had again");
        tokio::time::sleep(Duration::from_millis(100)).await;
    }
    assert_eq!(b.client.execute(points, vec![]).await?, all);
    let lost = "return document.body.textContent.includes('could not be laid out')";
    assert_eq!(b.client.execute(lost, vec![]).await?, Value::from(false));
    drop(server);
    b.close().await
}

/// What the browser draws: no letters on others, and none too small. The server counts the same with a table of the
/// font's widths; this is the check of that table.
#[tokio::test(flavor = "multi_thread")]
async fn no_letters_lie_on_others_in_the_browser() -> Result<()> {
    let (_folder, server) = school().await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    for circuit in [1, 5, 10, 12, 17] {
        b.go(&format!("/circuits/{circuit}/workshop")).await?;
        b.css("svg.drawn text").await?;
        b.settle().await;
        let script = "
            const texts = [...document.querySelectorAll('svg.drawn text')].filter((t) => t.textContent.trim());
            const scale = document.querySelector('svg.drawn > g').getScreenCTM().a;
            // The line box of a text is higher than its letters.
            const rects = texts.map((t) => { const r = t.getBoundingClientRect(); return [r.left, r.top + r.height * 0.17, r.right, r.bottom - r.height * 0.17, t.textContent]; });
            const found = [];
            rects.forEach((a, n) => rects.slice(n + 1).forEach((c) => {
                if (Math.min(a[2], c[2]) - Math.max(a[0], c[0]) > 1 && Math.min(a[3], c[3]) - Math.max(a[1], c[1]) > 1) found.push(a[4] + ' / ' + c[4]);
            }));
            return [texts.length, 9 * scale, found];";
        let seen = b.client.execute(script, vec![]).await?;
        let seen = seen.as_array().unwrap();
        assert!(seen[0].as_u64().unwrap() > 30, "{circuit}: {seen:?}");
        assert!(
            seen[1].as_f64().unwrap() >= 8.5,
            "{circuit}: {} px",
            seen[1]
        );
        assert_eq!(
            seen[2].as_array().unwrap().len(),
            0,
            "{circuit}: {}",
            seen[2]
        );
    }
    b.close().await
}
