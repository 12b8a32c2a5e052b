//! What a frame of a large diagram costs while it is dragged and zoomed:
//! `cargo run -p cimento-e2e -- frames`, on a quiet machine.

use std::time::Duration;

use cimento_e2e::{Browser, Result, Server};
use fantoccini::actions::{
    InputSource, MOUSE_BUTTON_LEFT, MouseActions, PointerAction, WheelAction, WheelActions,
};
use serde_json::Value;

/// Moves of the mouse and turns of the wheel, one for each frame of a screen that draws sixty a second.
const MOVES: i64 = 120;
const A_FRAME: Option<Duration> = Some(Duration::from_millis(16));

/// Frames that the page has drawn since it was first asked.
async fn frames(b: &Browser) -> Result<f64> {
    let script = "
        if (window.framesDrawn === undefined) {
            window.framesDrawn = 0;
            const count = () => { window.framesDrawn += 1; requestAnimationFrame(count); };
            requestAnimationFrame(count);
        }
        return window.framesDrawn;";
    let drawn = b.client.execute(script, Vec::new()).await?;
    Ok(drawn.as_f64().unwrap_or(0.0))
}

async fn middle(b: &Browser) -> Result<(i64, i64)> {
    let script = "
        const r = document.querySelector('.diagram svg').getBoundingClientRect();
        return [Math.round(r.x + r.width / 2), Math.round(r.y + r.height / 2)];";
    let at = b.client.execute(script, Vec::new()).await?;
    let one = |n: usize| at[n].as_i64().ok_or("the diagram is nowhere");
    Ok((one(0)?, one(1)?))
}

fn drag((x, y): (i64, i64)) -> MouseActions {
    let to = |dx: i64, dy: i64, duration| PointerAction::MoveTo {
        duration,
        x: (x + dx) as f64,
        y: (y + dy) as f64,
    };
    let mut actions = MouseActions::new("mouse".to_owned())
        .then(to(0, 0, None))
        .then(PointerAction::Down {
            button: MOUSE_BUTTON_LEFT,
        });
    for n in 0..MOVES {
        // To and fro, so that it stays on the screen.
        let far = 4 * (n % 40 - 20).abs();
        actions = actions.then(to(far, far / 2, A_FRAME));
    }
    actions.then(PointerAction::Up {
        button: MOUSE_BUTTON_LEFT,
    })
}

fn zoom((x, y): (i64, i64)) -> WheelActions {
    let mut actions = WheelActions::new("wheel".to_owned());
    for n in 0..MOVES {
        let delta_y = if n % 60 < 30 { -40 } else { 40 };
        actions = actions.then(WheelAction::Scroll {
            duration: A_FRAME,
            x,
            y,
            delta_x: 0,
            delta_y,
        });
    }
    actions
}

/// Does something, and says what script, style and layout took of each frame meanwhile.
async fn watched<T>(b: &Browser, what: &str, act: impl Future<Output = Result<T>>) -> Result<()> {
    let (drawn, before) = (frames(b).await?, b.spent().await?);
    act.await?;
    let (after, now) = (b.spent().await?, frames(b).await?);
    let count = now - drawn;
    let ms = |name: &str| {
        let at = |all: &Value| all[name].as_f64().unwrap_or(0.0);
        1000.0 * (at(&after) - at(&before)) / count
    };
    let [script, style, layout] =
        ["ScriptDuration", "RecalcStyleDuration", "LayoutDuration"].map(ms);
    println!(
        "{what}: {:.2} ms a frame (script {script:.2}, style {style:.2}, layout {layout:.2}) of {count} frames",
        script + style + layout
    );
    Ok(())
}

pub async fn measure() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("frames.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    let circuits = b.client.execute_async(
        "const [done] = arguments; fetch('/api/circuits').then((r) => r.json()).then((all) => done(all.map((c) => [c.id, c.title])));",
        Vec::new(),
    );
    let circuits = circuits.await?;
    for title in ["throttle", "Ground power unit, ignition"] {
        let all = circuits.as_array().into_iter().flatten();
        let known = all.map(|c| (c[0].as_i64(), c[1].as_str().unwrap_or_default()));
        let Some((Some(id), title)) = known.into_iter().find(|(_, t)| t.contains(title)) else {
            return Err(format!("no circuit “{title}”: {circuits}").into());
        };
        for screen in ["fault-bench", "workshop"] {
            b.go(&format!("/circuits/{id}/{screen}")).await?;
            b.css(".diagram [data-point]").await?;
            b.settle().await;
            tokio::time::sleep(Duration::from_secs(2)).await;
            let at = middle(&b).await?;
            // Somewhere into the diagram, where there is something to drag.
            let zoomed = async { Ok(b.client.perform_actions(zoom(at)).await?) };
            watched(&b, &format!("{title}, {screen}, zoomed"), zoomed).await?;
            b.press("+++").await?;
            let dragged = async { Ok(b.client.perform_actions(drag(at)).await?) };
            watched(&b, &format!("{title}, {screen}, dragged"), dragged).await?;
        }
    }
    b.close().await
}
