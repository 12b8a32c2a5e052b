//! The bench on a telephone: four views, nothing off the screen, and everything high enough for a finger.

use cimento_e2e::{Browser, Result, Server};
use serde_json::Value;

const VIEWS: [&str; 4] = ["machine", "meter", "readings", "reasoning"];

/// What is wider than the screen, lies below it, or is less than 44 px high where a finger goes. A link within a sentence
/// may be as high as its line.
const MISFITS: &str = "
    const said = (e) => e.textContent || e.ariaLabel || e.id;
    const seen = [...document.querySelectorAll('.bench *')]
        .map((e) => [e, e.getBoundingClientRect()])
        .filter(([e, r]) => r.width > 1 && r.height > 1 && getComputedStyle(e).visibility !== 'hidden');
    const scrolls = (e) => e.closest('svg, .stairs, .scroll, .order');
    const off = seen.filter(([e, r]) => !e.closest('svg, .stairs') && r.right > innerWidth + 1);
    const below = seen.filter(([e, r]) => !scrolls(e) && r.bottom > innerHeight + 1);
    const low = seen.filter(([e, r]) => e.matches('button:not(.inline-link), select, .ant-select, .lead input, .text-field')
        && r.height < 43.5);
    return [
        ...off.map(([e]) => 'off the screen: ' + said(e)),
        ...below.map(([e]) => 'below the screen: ' + said(e)),
        ...low.map(([e, r]) => r.height + ' px high: ' + said(e)),
        ...(document.documentElement.scrollWidth > innerWidth ? ['the page scrolls sideways'] : []),
    ].slice(0, 10);";

async fn fits(b: &Browser, view: &str) -> Result<()> {
    b.settle().await;
    let misfits = b.client.execute(MISFITS, vec![]).await?;
    assert_eq!(misfits, Value::Array(vec![]), "{view}");
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn a_bench_is_worked_on_a_telephone() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.phone().await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    b.css("[data-point='BAT.+']").await?;
    for view in VIEWS {
        b.click(&format!("#view-{view}")).await?;
        fits(&b, view).await?;
    }
    // A lead is put on the diagram, and the meter's view says so.
    b.click("#view-machine").await?;
    b.click("#try-complaint").await?;
    b.wait_text("#notices", "no crank").await?;
    b.click_point("BAT.+").await?;
    b.wait_text("#view-meter", "BAT.+ / BAT.-").await?;
    fits(&b, "a chosen place").await?;
    b.click("#view-meter").await?;
    b.fill("#expected", "12.6").await?;
    b.click("#take-reading").await?;
    b.wait_text("#display", "12.").await?;
    fits(&b, "a reading").await?;
    b.wait_text("#view-readings", "1 taken").await?;
    b.click("#view-readings").await?;
    b.wait_text(".ledger", "BAT.+").await?;
    fits(&b, "the readings").await?;
    b.close().await
}

/// On a window that is enlarged to twice its size nothing of a view is out of reach, and the keys open the view in which
/// they do something.
#[tokio::test(flavor = "multi_thread")]
async fn an_enlarged_bench_is_worked_by_keyboard() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    b.enlarged().await?;
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    b.css("[data-point='BAT.+']").await?;
    let room = "
        const order = document.querySelector('.order');
        return [document.querySelector('.diagram').clientHeight, order.scrollHeight - order.clientHeight];";
    let room = b.client.execute(room, vec![]).await?;
    let [diagram, cut] = [0, 1].map(|n| room[n].as_f64().unwrap());
    assert!(diagram > 200.0 && cut < 1.0, "{room}");
    b.press("r").await?;
    b.wait_text("#view-meter[aria-current]", "Meter").await?;
    b.press("K3.86\u{e007}").await?;
    b.wait_text("#view-meter", "K3.86 / BAT.-").await?;
    let top = "
        const scroll = document.querySelector('.bench .scroll');
        scroll.scrollTop = 0;
        return scroll.firstElementChild.getBoundingClientRect().top - scroll.getBoundingClientRect().top;";
    let top = b.client.execute(top, vec![]).await?;
    assert!(top.as_f64().unwrap() >= 0.0, "cut off at the top: {top}");
    b.client
        .execute("document.activeElement.blur()", vec![])
        .await?;
    b.press("c").await?;
    b.wait_text("#view-reasoning[aria-current]", "Reasoning")
        .await?;
    b.press("\u{e00c}").await?;
    b.client
        .execute("document.activeElement.blur()", vec![])
        .await?;
    b.press("e").await?;
    b.wait_text("#view-meter[aria-current]", "Meter").await?;
    let at = b
        .client
        .execute("return document.activeElement.id", vec![])
        .await?;
    assert_eq!(at, "expected");
    b.close().await
}
