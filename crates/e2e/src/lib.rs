//! What the browser tests stand on: the real server on a database of its own, and the real page in
//! headless Chromium.

use std::path::{Path, PathBuf};
use std::process::Stdio;
use std::time::Duration;

use fantoccini::elements::Element;
use fantoccini::wd::{Capabilities, WebDriverCompatibleCommand};
use fantoccini::{Client, ClientBuilder, Locator};
use hyper_util::client::legacy::connect::HttpConnector;
use tempfile::TempDir;
use tokio::io::{AsyncBufReadExt, BufReader};
use tokio::process::{Child, ChildStdout, Command};

/// Anything that goes wrong ends the test with its words.
pub type Result<T> = std::result::Result<T, Box<dyn std::error::Error + Send + Sync>>;

/// Longest wait for something to appear.
const PATIENCE: Duration = Duration::from_secs(20);

type Lines = tokio::io::Lines<BufReader<ChildStdout>>;

/// The root of the repository.
pub fn root() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("../..")
}

/// How long to wait before looking again: ever longer, for looking takes the time of what is waited for.
struct Again(Duration);

impl Default for Again {
    fn default() -> Self {
        Self(Duration::from_millis(30))
    }
}

impl Again {
    async fn wait(&mut self) {
        tokio::time::sleep(self.0).await;
        self.0 = (self.0 * 3 / 2).min(Duration::from_millis(400));
    }
}

/// A running server with the demo school.
pub struct Server {
    child: Child,
    pub url: String,
    database: PathBuf,
}

impl Server {
    /// Starts the server with the demo school on a database file; port 0 takes a free one.
    pub async fn start(database: &Path, port: u16) -> Result<Self> {
        Ok(Self::begin(&["demo"], database, port).await?.0)
    }

    /// The same with the class that has a term of work behind it.
    pub async fn start_with_term(database: &Path) -> Result<Self> {
        Ok(Self::begin(&["demo", "--term"], database, 0).await?.0)
    }

    /// Starts the server on a new database, with the code that its school is opened with.
    pub async fn start_empty(database: &Path) -> Result<(Self, String)> {
        let (server, mut lines) = Self::begin(&["serve"], database, 0).await?;
        let said = "  nobody is in this school yet: open it there with the code ";
        let line = tokio::time::timeout(PATIENCE, lines.next_line()).await??;
        let code = line.as_deref().and_then(|l| l.strip_prefix(said));
        let code = code.ok_or("the server printed no code")?.to_owned();
        Ok((server, code))
    }

    async fn begin(what: &[&str], database: &Path, port: u16) -> Result<(Self, Lines)> {
        let program = root().join("target/debug/cimento");
        let mut child = Command::new(&program)
            .args(what)
            .args(["--log", "error", "--think-ahead", "false"])
            .args(["--database".as_ref(), database.as_os_str()])
            .args(["--port", &port.to_string()])
            .current_dir(root())
            .stdout(Stdio::piped())
            .kill_on_drop(true)
            .spawn()
            .map_err(|e| {
                format!(
                    "{} cannot be started: {e}; run `make build`",
                    program.display()
                )
            })?;
        let out = child.stdout.take().ok_or("the server has no output")?;
        let mut lines = BufReader::new(out).lines();
        let mut url = None;
        while let Some(line) = tokio::time::timeout(PATIENCE, lines.next_line()).await?? {
            if let Some(found) = line.strip_prefix("Cimento is ready at ") {
                url = Some(found.to_owned());
                break;
            }
        }
        let server = Self {
            child,
            url: url.ok_or("the server ended before it was ready")?,
            database: database.to_owned(),
        };
        Ok((server, lines))
    }

    /// Kills the server without warning (SIGKILL) and starts it again on the same port and file.
    pub async fn kill_and_restart(mut self) -> Result<Self> {
        self.child.kill().await?;
        let port = self.url.rsplit(':').next().ok_or("no port")?.parse()?;
        Self::start(&self.database, port).await
    }
}

/// A browser window on the server's page.
pub struct Browser {
    pub client: Client,
    pub url: String,
    driver: Child,
    _profile: TempDir,
}

/// A test that fails leaves its window open: the driver and the browsers it started, which are one
/// process group, end with it.
impl Drop for Browser {
    fn drop(&mut self) {
        if let Some(id) = self.driver.id() {
            let group = format!("-{id}");
            let _ = std::process::Command::new("kill")
                .args(["-KILL", "--", &group])
                .status();
        }
    }
}

impl Browser {
    /// Opens a window of 1280 by 800.
    pub async fn open(url: &str) -> Result<Self> {
        let port = free_port()?;
        let driver = Command::new("chromedriver")
            .arg(format!("--port={port}"))
            .stdout(Stdio::null())
            .stderr(Stdio::null())
            .process_group(0)
            .kill_on_drop(true)
            .spawn()
            .map_err(|e| format!("chromedriver cannot be started: {e}; `make test` installs it"))?;
        let profile = tempfile::tempdir()?;
        let options = serde_json::json!({
            "args": [
                "--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
                "--disable-background-networking", "--disable-component-update", "--disable-sync",
                "--hide-scrollbars", "--window-size=1280,800",
                format!("--user-data-dir={}", profile.path().display()),
            ]
        });
        let mut capabilities = Capabilities::new();
        capabilities.insert("goog:chromeOptions".to_owned(), options);
        let address = format!("http://127.0.0.1:{port}");
        let mut tries = 0;
        let client = loop {
            let mut builder = ClientBuilder::new(HttpConnector::new());
            match builder
                .capabilities(capabilities.clone())
                .connect(&address)
                .await
            {
                Ok(client) => break client,
                Err(_) if tries < 50 => {
                    tries += 1;
                    tokio::time::sleep(Duration::from_millis(100)).await;
                }
                Err(e) => return Err(e.into()),
            }
        };
        // The inside of the window is what a person sees: make that 1280 by 800.
        let inner = client
            .execute("return [window.outerWidth - window.innerWidth, window.outerHeight - window.innerHeight]", vec![])
            .await?;
        let extra = |n: usize| {
            inner[n]
                .as_u64()
                .and_then(|v| u32::try_from(v).ok())
                .unwrap_or(0)
        };
        client
            .set_window_size(1280 + extra(0), 800 + extra(1))
            .await?;
        Ok(Self {
            client,
            url: url.to_owned(),
            driver,
            _profile: profile,
        })
    }

    /// Goes to an address of the site.
    pub async fn go(&self, path: &str) -> Result<()> {
        Ok(self.client.goto(&format!("{}{path}", self.url)).await?)
    }

    /// Signs in through the form.
    pub async fn sign_in(&self, name: &str, password: &str) -> Result<()> {
        self.go("/").await?;
        self.css("#name").await?.send_keys(name).await?;
        self.css("#password").await?.send_keys(password).await?;
        self.press("\u{e007}").await?;
        self.text("h1").await?;
        self.xpath("//button[normalize-space()='Sign out']").await?;
        Ok(())
    }

    /// The first element that matches, once it is there.
    pub async fn css(&self, css: &str) -> Result<Element> {
        let wait = self
            .client
            .wait()
            .at_most(PATIENCE)
            .for_element(Locator::Css(css))
            .await;
        wait.map_err(|e| format!("{css}: {e}").into())
    }

    /// The same by XPath.
    pub async fn xpath(&self, xpath: &str) -> Result<Element> {
        let wait = self
            .client
            .wait()
            .at_most(PATIENCE)
            .for_element(Locator::XPath(xpath))
            .await;
        wait.map_err(|e| format!("{xpath}: {e}").into())
    }

    /// Text of the first element that matches.
    pub async fn text(&self, css: &str) -> Result<String> {
        let script = r"return arguments[0].innerText.replace(/[ \t]+/g, ' ')";
        let text = self.ask(Locator::Css(css), script).await?;
        Ok(text.as_str().unwrap_or_default().to_owned())
    }

    /// An attribute of the first element that matches, empty when it has none.
    pub async fn attr(&self, css: &str, name: &str) -> Result<String> {
        let script = format!("return arguments[0].getAttribute('{name}')");
        let value = self.ask(Locator::Css(css), &script).await?;
        Ok(value.as_str().unwrap_or_default().to_owned())
    }

    /// An attribute, once it is no longer what it was.
    pub async fn attr_after(&self, css: &str, name: &str, before: &str) -> Result<String> {
        let until = tokio::time::Instant::now() + PATIENCE;
        let mut again = Again::default();
        loop {
            let now = self.attr(css, name).await?;
            if now != before {
                return Ok(now);
            }
            if tokio::time::Instant::now() > until {
                return Err(format!("{name} of {css} stayed “{before}”").into());
            }
            again.wait().await;
        }
    }

    /// What stands in a field.
    pub async fn value(&self, css: &str) -> Result<String> {
        let value = self
            .ask(Locator::Css(css), "return arguments[0].value")
            .await?;
        Ok(value.as_str().unwrap_or_default().to_owned())
    }

    /// Runs a script on the first element that matches. The page may draw anew between finding an
    /// element and asking it: then again.
    async fn ask(&self, what: Locator<'_>, script: &str) -> Result<serde_json::Value> {
        let until = tokio::time::Instant::now() + PATIENCE;
        loop {
            let element = self.client.wait().at_most(PATIENCE).for_element(what).await;
            let element = element.map_err(|e| format!("{what:?}: {e}"))?;
            let argument = serde_json::to_value(element)?;
            match self.client.execute(script, vec![argument]).await {
                Ok(value) => return Ok(value),
                Err(e) if e.is_stale_element_reference() => {
                    if tokio::time::Instant::now() > until {
                        return Err(format!("{what:?}: {e}").into());
                    }
                }
                Err(e) => return Err(format!("{what:?}: {e}").into()),
            }
        }
    }

    /// Clicks the first element that matches.
    pub async fn click(&self, css: &str) -> Result<()> {
        self.click_at(Locator::Css(css)).await
    }

    /// The same by XPath.
    pub async fn click_xpath(&self, xpath: &str) -> Result<()> {
        self.click_at(Locator::XPath(xpath)).await
    }

    /// The page may draw anew between finding and clicking, or still be covered: then again.
    async fn click_at(&self, what: Locator<'_>) -> Result<()> {
        let until = tokio::time::Instant::now() + PATIENCE;
        loop {
            let element = self.client.wait().at_most(PATIENCE).for_element(what).await;
            let element = element.map_err(|e| format!("{what:?}: {e}"))?;
            match element.click().await {
                Ok(()) => return Ok(()),
                Err(e) if tokio::time::Instant::now() > until => {
                    return Err(format!("{what:?}: {e}").into());
                }
                Err(_) => tokio::time::sleep(Duration::from_millis(60)).await,
            }
        }
    }

    /// Clicks a point of the diagram, which a plain click on an SVG group may miss.
    pub async fn click_point(&self, point: &str) -> Result<()> {
        let script = "arguments[0].dispatchEvent(new MouseEvent('click', {bubbles: true}))";
        let point = format!("[data-point='{point}']");
        self.ask(Locator::Css(&point), script).await?;
        Ok(())
    }

    /// Clicks a choice of a row of choices, such as a position of the key.
    pub async fn choose(&self, group: &str, choice: &str) -> Result<()> {
        let path = format!("//*[@aria-label='{group}']//label[normalize-space()='{choice}']");
        self.click_xpath(&path).await
    }

    /// Picks an entry of a drop-down list by typing a part of it.
    pub async fn pick(&self, id: &str, text: &str) -> Result<()> {
        self.click(&format!("#{id}")).await?;
        self.press(text).await?;
        self.settle().await;
        self.press("\u{e007}").await?;
        self.settle().await;
        Ok(())
    }

    /// Sets a fault on the fault bench.
    pub async fn set_fault(&self, place: &str, mode: &str) -> Result<()> {
        self.pick("fault-place", place).await?;
        self.pick("fault-mode", mode).await?;
        self.click("#fault-add").await
    }

    /// Hands in what was asked whether to, and opens its mark sheet as an instructor of the demo: marks wait until they are
    /// let be seen.
    pub async fn hand_in_to(&self, instructor: &str) -> Result<()> {
        self.click("#confirm-hand-in").await?;
        self.wait_text("[role='alert']", "this sheet shows when")
            .await?;
        let sheet = self.client.current_url().await?.path().to_owned();
        self.client.delete_all_cookies().await?;
        self.sign_in(instructor, "bench-and-meter").await?;
        self.go(&sheet).await
    }

    /// Chooses what a channel of the oscilloscope will show, by words beside its picture.
    pub async fn choose_pattern(&self, channel: &str, words: &str) -> Result<()> {
        let group = format!("//*[@role='radiogroup'][contains(@aria-label, '{channel}')]");
        self.click_xpath(&format!("{group}//label[contains(., '{words}')]"))
            .await
    }

    /// Clicks into a field and types.
    pub async fn fill(&self, css: &str, text: &str) -> Result<()> {
        self.click(css).await?;
        self.press(text).await
    }

    /// Replaces what stands in a field, as a person does: select all, type.
    pub async fn retype(&self, css: &str, text: &str) -> Result<()> {
        self.fill(css, &format!("\u{e009}a\u{e000}{text}")).await
    }

    /// Chooses files, as a dialog of the system does.
    pub async fn fill_files(&self, css: &str, files: &[String]) -> Result<()> {
        let field = self.client.find(Locator::Css(css)).await?;
        field.send_keys(&files.join("\n")).await?;
        Ok(())
    }

    /// A student opens a work order by its title.
    pub async fn open_work(&self, title: &str) -> Result<()> {
        self.go("/attempts").await?;
        self.click_xpath(&format!("//td/a[normalize-space()='{title}']"))
            .await
    }

    /// Types keys to whatever has the focus, once the page has come to rest.
    pub async fn press(&self, keys: &str) -> Result<()> {
        for _ in 0..10 {
            self.settle().await;
            // A page that draws anew takes the element away before a key arrives: then again.
            if self
                .client
                .active_element()
                .await?
                .send_keys(keys)
                .await
                .is_ok()
            {
                return Ok(());
            }
        }
        Err(format!("nothing took the keys {keys:?}").into())
    }

    /// Waits until an element's text holds some words.
    pub async fn wait_text(&self, css: &str, words: &str) -> Result<String> {
        self.wait_text_within(css, words, PATIENCE).await
    }

    /// The same for what takes as long as the computation behind it.
    pub async fn wait_text_within(
        &self,
        css: &str,
        words: &str,
        at_most: Duration,
    ) -> Result<String> {
        let until = tokio::time::Instant::now() + at_most;
        let mut again = Again::default();
        let script = r"const e = document.querySelector(arguments[0]); return e ? (e.innerText ?? e.textContent).replace(/[ \t]+/g, ' ') : ''";
        loop {
            let text = self.client.execute(script, vec![css.into()]).await;
            let text = text.ok().and_then(|t| t.as_str().map(str::to_owned));
            let text = text.unwrap_or_default();
            if text.contains(words) {
                return Ok(text);
            }
            if tokio::time::Instant::now() > until {
                return Err(format!("{css} never said “{words}” but “{text}”").into());
            }
            again.wait().await;
        }
    }

    /// Takes the network away, or gives it back.
    pub async fn cut(&self, offline: bool) -> Result<()> {
        let all = serde_json::json!({"offline": offline, "latency": 0, "downloadThroughput": -1, "uploadThroughput": -1});
        for (method, params) in [
            ("Network.enable", serde_json::json!({})),
            ("Network.emulateNetworkConditions", all),
        ] {
            self.client.issue_cmd(DevTools(method, params)).await?;
        }
        Ok(())
    }

    /// Shows a page as on a screen of so many pixels, with a mouse or under a finger.
    pub async fn screen(&self, width: u32, height: u32, finger: bool) -> Result<()> {
        self.emulate((width, height), finger).await
    }

    /// Turns the window into a telephone's screen of 390 by 844, touched by a finger.
    pub async fn phone(&self) -> Result<()> {
        self.emulate((390, 844), true).await
    }

    /// Shows a page as on a window of 1280 by 800 that is enlarged to twice its size.
    pub async fn enlarged(&self) -> Result<()> {
        self.emulate((640, 400), false).await
    }

    async fn emulate(&self, (width, height): (u32, u32), finger: bool) -> Result<()> {
        let screen = serde_json::json!({"width": width, "height": height, "deviceScaleFactor": 1, "mobile": finger});
        for (method, params) in [
            ("Emulation.setDeviceMetricsOverride", screen),
            (
                "Emulation.setTouchEmulationEnabled",
                serde_json::json!({"enabled": finger}),
            ),
        ] {
            self.client.issue_cmd(DevTools(method, params)).await?;
        }
        Ok(())
    }

    /// Slows the line to so many bits a second and milliseconds there and back, with an empty cache.
    pub async fn throttle(&self, bits_per_s: f64, latency_ms: u32) -> Result<()> {
        let bytes = bits_per_s / 8.0;
        for (method, params) in [
            ("Network.enable", serde_json::json!({})),
            ("Network.clearBrowserCache", serde_json::json!({})),
            (
                "Network.setCacheDisabled",
                serde_json::json!({"cacheDisabled": true}),
            ),
            (
                "Network.emulateNetworkConditions",
                serde_json::json!({"offline": false, "latency": latency_ms, "downloadThroughput": bytes, "uploadThroughput": bytes}),
            ),
        ] {
            self.client.issue_cmd(DevTools(method, params)).await?;
        }
        Ok(())
    }

    /// What the page has spent since it began, in seconds, by the browser's own names.
    pub async fn spent(&self) -> Result<serde_json::Value> {
        let nothing = serde_json::json!({});
        self.client
            .issue_cmd(DevTools("Performance.enable", nothing.clone()))
            .await?;
        let answer = self
            .client
            .issue_cmd(DevTools("Performance.getMetrics", nothing))
            .await?;
        let metrics = answer["metrics"].as_array().into_iter().flatten();
        let by_name =
            metrics.filter_map(|m| Some((m["name"].as_str()?.to_owned(), m["value"].clone())));
        Ok(serde_json::Value::Object(by_name.collect()))
    }

    /// The page printed on paper of so many inches, as a PDF in base64.
    pub async fn printed(&self, width: f64, height: f64) -> Result<String> {
        let paper = serde_json::json!({"paperWidth": width, "paperHeight": height});
        let answer = self
            .client
            .issue_cmd(DevTools("Page.printToPDF", paper))
            .await?;
        Ok(answer["data"].as_str().unwrap_or_default().to_owned())
    }

    /// What axe-core finds against WCAG 2.2 AA on the page as it stands: rule, what is wrong, where.
    pub async fn barriers(&self) -> Result<Vec<String>> {
        self.settle().await;
        let axe = root().join("web/node_modules/axe-core/axe.min.js");
        self.client
            .execute(&std::fs::read_to_string(axe)?, vec![])
            .await?;
        let run = r"
            const done = arguments[0];
            const tags = ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'];
            // The list that a drop-down of the component library keeps for screen readers says that its
            // hidden entries are not selected, which the rule forbids; it is not ours to mend.
            const context = { exclude: [['[role=listbox] > [role=presentation]']] };
            axe.run(context, { runOnly: { type: 'tag', values: tags } }).then((r) =>
                done(r.violations.flatMap((v) => v.nodes.map((n) =>
                    `${v.id}: ${n.any.concat(n.all, n.none).map((c) => c.message).join(' ')} ${n.target.join(' ')} ${n.html.slice(0, 160)}`))));
        ";
        let found = self.client.execute_async(run, vec![]).await?;
        Ok(serde_json::from_value(found)?)
    }

    /// A moment for the page to draw.
    pub async fn settle(&self) {
        tokio::time::sleep(Duration::from_millis(150)).await;
    }

    /// Writes what is seen to a PNG file.
    pub async fn picture(&self, file: &Path) -> Result<()> {
        self.settle().await;
        Ok(std::fs::write(file, self.client.screenshot().await?)?)
    }

    /// Closes the window.
    pub async fn close(self) -> Result<()> {
        Ok(self.client.clone().close().await?)
    }
}

fn free_port() -> Result<u16> {
    Ok(std::net::TcpListener::bind("127.0.0.1:0")?
        .local_addr()?
        .port())
}

/// A command to the browser's own developer tools, as ChromeDriver passes it on.
#[derive(Debug)]
struct DevTools(&'static str, serde_json::Value);

impl WebDriverCompatibleCommand for DevTools {
    fn endpoint(
        &self,
        base: &url::Url,
        session: Option<&str>,
    ) -> std::result::Result<url::Url, url::ParseError> {
        base.join(&format!(
            "session/{}/goog/cdp/execute",
            session.unwrap_or_default()
        ))
    }

    fn method_and_body(&self, _: &url::Url) -> (http::Method, Option<String>) {
        let body = serde_json::json!({"cmd": self.0, "params": self.1});
        (http::Method::POST, Some(body.to_string()))
    }
}
