//! The bench, the instructor's bench and the workshop on the screens that schools have: nothing lies over anything else or
//! off the screen, and what a finger has to hit is high enough for it.

use cimento_e2e::{Browser, Result, Server};
use serde_json::Value;

/// Windows, and whether a finger is used: projector, the smallest usual laptop, an old projector, a tablet held upright.
const SCREENS: [(u32, u32, bool); 4] = [
    (1920, 1080, false),
    (1366, 768, false),
    (1024, 768, false),
    (820, 1180, true),
];

/// What lies off the screen, over a neighbour, or is too low for a finger. What scrolls by itself may be longer than it
/// shows.
const MISFITS: &str = "
    const [finger, wide] = arguments;
    const said = (e) => (e.getAttribute('aria-label') || e.id || e.className || e.tagName) + ' ' + (e.textContent || '').slice(0, 30);
    const box = (e) => e.getBoundingClientRect();
    const shown = (e) => {
        const r = box(e);
        return r.width > 1 && r.height > 1 && getComputedStyle(e).visibility !== 'hidden';
    };
    const all = [...document.querySelectorAll('main *, header *')].filter(shown);
    const inside = (e) => e.closest('svg, .stairs, .scroll, .roll, .order, .view-controls, .ant-table');
    const off = all.filter((e) => !inside(e) && (box(e).right > wide + 1 || box(e).left < -1));
    const panes = [...document.querySelectorAll('.bench > .left > *, .bench > .right')].filter(shown);
    const over = (a, b) => !a.contains(b) && !b.contains(a)
        && Math.min(box(a).right, box(b).right) - Math.max(box(a).left, box(b).left) > 1
        && Math.min(box(a).bottom, box(b).bottom) - Math.max(box(a).top, box(b).top) > 1;
    const laps = panes.flatMap((a, n) => panes.slice(n + 1).filter((b) => over(a, b)).map((b) => said(a) + ' over ' + said(b)));
    const low = finger
        ? all.filter((e) => e.matches('button:not(.inline-link), select, .ant-select, input:not([type=checkbox], [type=radio], [role=combobox])')
            && !e.closest('svg') && box(e).height < 43.5)
        : [];
    return [
        ...off.map((e) => 'off the screen: ' + said(e)),
        ...laps,
        ...low.map((e) => box(e).height + ' px high: ' + said(e)),
        ...(document.documentElement.scrollWidth > wide ? ['the page scrolls sideways'] : []),
    ].slice(0, 12);";

async fn fits(b: &Browser, (width, height, finger): (u32, u32, bool), page: &str) -> Result<()> {
    b.settle().await;
    let given = vec![Value::Bool(finger), width.into()];
    let misfits = b.client.execute(MISFITS, given).await?;
    assert_eq!(misfits, Value::Array(vec![]), "{page}, {width} × {height}");
    Ok(())
}

async fn server() -> Result<(tempfile::TempDir, Server, Browser)> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    Ok((folder, server, b))
}

#[tokio::test(flavor = "multi_thread")]
async fn a_student_works_on_every_usual_screen() -> Result<()> {
    let (_folder, _server, b) = server().await?;
    b.sign_in("varga", "red-and-black").await?;
    for screen in SCREENS {
        let (width, height, finger) = screen;
        b.screen(width, height, finger).await?;
        b.css("main :is(h1, h2)").await?;
        fits(&b, screen, "start").await?;
        b.open_work("Baggage tug will not crank").await?;
        b.css("[data-point='BAT.+']").await?;
        fits(&b, screen, "bench").await?;
        let room = "const r = (s) => document.querySelector(s).getBoundingClientRect();
            return [r('.diagram').height, r('.diagram').width];";
        let room = b.client.execute(room, vec![]).await?;
        let [high, wide] = [0, 1].map(|n| room[n].as_f64().unwrap_or(0.0));
        assert!(
            high > 200.0 && wide > 380.0,
            "{width} × {height}: {high} × {wide}"
        );
        b.go("/").await?;
    }
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
async fn an_instructor_works_on_every_usual_screen() -> Result<()> {
    let (_folder, _server, b) = server().await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    for screen in SCREENS {
        let (width, height, finger) = screen;
        b.screen(width, height, finger).await?;
        for page in [
            "/start",
            "/lessons",
            "/courses/1",
            "/circuits/1/lessons",
            "/classes",
            "/circuits",
            "/circuits/1/fault-bench",
            "/circuits/1/workshop",
        ] {
            b.go(page).await?;
            b.css("main :is(h1, h2)").await?;
            fits(&b, screen, page).await?;
        }
    }
    b.close().await
}
