//! Nothing jumps: what has been painted stays where it is until somebody does something.

use cimento_e2e::{Browser, Result, Server};

/// Share of the screen times the share of its height that things moved without being asked, by the browser's own count,
/// and what moved. Layout Instability, W3C Community Group draft, <https://wicg.github.io/layout-instability/>.
const SHIFTED: &str = "
    const done = arguments[0];
    const named = (n) => n && (n.id || n.className || n.nodeName) + '';
    const seen = [];
    new PerformanceObserver((list) => {
        for (const e of list.getEntries()) {
            if (!e.hadRecentInput) {
                seen.push([e.value, ...e.sources.map((s) => named(s.node) + ' ' +
                    [s.previousRect, s.currentRect].map((r) => [r.x, r.y, r.width, r.height].map(Math.round)).join(' > '))]);
            }
        }
    }).observe({ type: 'layout-shift', buffered: true });
    setTimeout(() => done([seen.reduce((sum, s) => sum + s[0], 0), JSON.stringify(seen)]), 300);";

/// A hair's breadth, which no eye sees: 2 px of a tenth of the screen.
const UNSEEN: f64 = 0.001;

async fn stays(b: &Browser, page: &str, there: &str, jumps: &mut Vec<String>) -> Result<()> {
    b.go(page).await?;
    b.css(there).await?;
    b.settle().await;
    let found = b.client.execute_async(SHIFTED, vec![]).await?;
    if found[0].as_f64().unwrap_or(1.0) > UNSEEN {
        jumps.push(format!("{page}: {found}"));
    }
    Ok(())
}

#[tokio::test(flavor = "multi_thread")]
async fn nothing_jumps_after_it_was_painted() -> Result<()> {
    let folder = tempfile::tempdir()?;
    let server = Server::start(&folder.path().join("school.db"), 0).await?;
    let b = Browser::open(&server.url).await?;
    let mut jumps = Vec::new();
    b.sign_in("varga", "red-and-black").await?;
    b.open_work("Baggage tug will not crank").await?;
    b.css("[data-point='BAT.+']").await?;
    let bench = b.client.current_url().await?.path().to_owned();
    stays(&b, "/", "main h2", &mut jumps).await?;
    stays(&b, &bench, "[data-point='BAT.+']", &mut jumps).await?;
    b.client.delete_all_cookies().await?;
    b.sign_in("dalca", "bench-and-meter").await?;
    for (page, there) in [
        ("/start", "main h2"),
        ("/lessons", "main section"),
        ("/circuits", "main td"),
        ("/classes", "main a"),
        ("/courses/1", "main td"),
        ("/circuits/1/lessons", "main h1"),
        ("/circuits/1/fault-bench", "[data-point='BAT.+']"),
        ("/circuits/1/workshop", "[data-point='BAT.+']"),
    ] {
        stays(&b, page, there, &mut jumps).await?;
    }
    assert!(jumps.is_empty(), "{}", jumps.join("\n"));
    b.close().await
}
