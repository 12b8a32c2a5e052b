//! The bench, the instructor's bench and the workshop on the screens that schools have: nothing lies over anything else or
//! off the screen, and what a finger has to hit is high enough for it.

use cimento_e2e::{Browser, Result, Server};
use serde_json::Value;

use super::diagram::{by_mouse, by_touch, on_screen};

/// Windows, and whether a finger is used: projector, the smallest usual laptop, an old projector, a tablet on its side and
/// held upright.
const SCREENS: [(u32, u32, bool); 5] = [
    (1920, 1080, false),
    (1366, 768, false),
    (1024, 768, false),
    (1024, 768, true),
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

/// What of the row above the diagram lies over something else of it, once a place is chosen and all is there that can be
/// done with it.
const CROWDED: &str = "
    const all = [...document.querySelectorAll('.view-controls :is(button, input)')]
        .map((e) => [e.id || e.ariaLabel || e.textContent, e.getBoundingClientRect()])
        .filter(([, r]) => r.width > 1 && r.height > 1);
    const over = (a, b) => Math.min(a.right, b.right) - Math.max(a.left, b.left) > 1
        && Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top) > 1;
    return all.flatMap(([a, r], n) => all.slice(n + 1).filter(([, s]) => over(r, s)).map(([b]) => a + ' over ' + b));";

/// Chooses a wire with what one has in hand; what can be done with it finds room.
async fn choose(b: &Browser, (width, height, finger): (u32, u32, bool)) -> Result<()> {
    let wire = on_screen(b, "[data-wire='W8']").await?;
    match finger {
        true => by_touch(b, wire).await?,
        false => by_mouse(b, wire).await?,
    }
    b.css("#card-suspect").await?;
    let crowded = b.client.execute(CROWDED, vec![]).await?;
    assert_eq!(crowded, Value::Array(vec![]), "{width} × {height}");
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
        choose(&b, screen).await?;
        fits(&b, screen, "a chosen place").await?;
        b.go("/").await?;
    }
    b.close().await
}

#[tokio::test(flavor = "multi_thread")]
#[ignore = "long: in make thorough"]
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

/// Under a finger, the shelf with pictures is on the screen, and a part comes from it.
#[tokio::test(flavor = "multi_thread")]
async fn a_part_is_taken_from_the_shelf_by_a_finger() -> Result<()> {
    let (_folder, _server, b) = server().await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    for screen in [(1024, 768, true), (820, 1180, true), (390, 844, true)] {
        b.screen(screen.0, screen.1, true).await?;
        b.go("/circuits/1/workshop").await?;
        b.wait_text("#healthy", "Cranks at").await?;
        b.click("#shelf-pictures").await?;
        b.css(".shelves [data-kind='horn']").await?;
        // It comes in by a movement.
        for _ in 0..4 {
            b.settle().await;
        }
        let at = "const r = document.querySelector('.shelves').getBoundingClientRect();
            return r.left >= 0 && r.right <= innerWidth + 1 && r.top >= 0 && r.bottom <= innerHeight + 1;";
        let on_it = b.client.execute(at, vec![]).await?;
        assert_eq!(on_it, true, "{screen:?}");
        let tile = "const tile = document.querySelector('.shelves [data-kind=horn]');
            tile.scrollIntoView({ block: 'center' });
            const r = tile.getBoundingClientRect();
            return [Math.round(r.x + r.width / 2), Math.round(r.y + r.height / 2)];";
        let tile = b.client.execute(tile, vec![]).await?;
        by_touch(&b, (tile[0].as_i64().unwrap(), tile[1].as_i64().unwrap())).await?;
        b.wait_text("#findings", "Y1").await?;
    }
    b.close().await
}
