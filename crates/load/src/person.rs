//! Somebody at a browser, and how long the answers took.

use std::collections::BTreeMap;
use std::sync::Arc;
use std::time::{Duration, Instant};

use reqwest::cookie::{CookieStore, Jar};
use reqwest::{Client, Method, RequestBuilder, StatusCode};
use serde_json::{Value, json};
use tokio::sync::Mutex;
use tokio::time::sleep;

use crate::Failure;

/// Everybody's password.
pub const PASSWORD: &str = "red-and-black";

/// How often one who was turned away asks again.
const TRIES: usize = 12;

/// What was measured, by kind of request.
#[derive(Default)]
pub struct Measured {
    /// Seconds from asking to the answer, waiting to be let in included.
    pub took: BTreeMap<&'static str, Vec<f64>>,
    pub errors: BTreeMap<String, usize>,
    pub turned_away: usize,
}

/// Somebody at a browser.
#[derive(Clone)]
pub struct Person {
    client: Client,
    cookies: Arc<Jar>,
    url: String,
    measured: Arc<Mutex<Measured>>,
}

impl Person {
    pub fn new(url: &str, measured: &Arc<Mutex<Measured>>) -> Result<Self, Failure> {
        let cookies = Arc::new(Jar::default());
        let client = Client::builder().cookie_provider(Arc::clone(&cookies));
        Ok(Self {
            client: client.build()?,
            cookies,
            url: url.to_owned(),
            measured: Arc::clone(measured),
        })
    }

    /// Asks, and again when turned away; the answer when all went well.
    pub async fn ask(
        &self,
        kind: &'static str,
        method: Method,
        path: &str,
        body: Option<&Value>,
    ) -> Option<Value> {
        let request = self.request(method, path, body);
        let bytes = self.send(kind, &request).await?;
        Some(serde_json::from_slice(&bytes).unwrap_or(Value::Null))
    }

    /// Takes a step, and says how many bytes its compressed answer has.
    pub async fn packed(&self, kind: &'static str, path: &str, body: &Value) -> Option<usize> {
        let request = self.request(Method::POST, path, Some(body));
        let request = request.header("Accept-Encoding", "gzip");
        Some(self.send(kind, &request).await?.len())
    }

    fn request(&self, method: Method, path: &str, body: Option<&Value>) -> RequestBuilder {
        let url = format!("{}{path}", self.url);
        let request = self.client.request(method, url);
        match body {
            Some(body) => request.json(body),
            None => request,
        }
    }

    /// Asks once, whatever the answer is.
    pub async fn answer(&self, method: Method, path: &str, body: &Value) -> Result<Value, Failure> {
        let answer = self.request(method, path, Some(body)).send().await?;
        Ok(serde_json::from_slice(&answer.bytes().await?)?)
    }

    async fn send(&self, kind: &'static str, request: &RequestBuilder) -> Option<Vec<u8>> {
        let began = Instant::now();
        for _ in 0..TRIES {
            let request = request.try_clone()?;
            let answer = match request.send().await {
                Ok(answer) => answer,
                Err(e) => return self.failed(kind, &e.to_string()).await,
            };
            let status = answer.status();
            if matches!(
                status,
                StatusCode::SERVICE_UNAVAILABLE | StatusCode::TOO_MANY_REQUESTS
            ) {
                let header = answer.headers().get("Retry-After");
                let seconds = header.and_then(|h| h.to_str().ok()?.parse().ok());
                self.measured.lock().await.turned_away += 1;
                sleep(Duration::from_secs_f64(
                    seconds.unwrap_or(2.0) * (0.5 + fastrand::f64()),
                ))
                .await;
                continue;
            }
            let bytes = match answer.bytes().await {
                Ok(bytes) => bytes,
                Err(e) => return self.failed(kind, &e.to_string()).await,
            };
            if !status.is_success() {
                let text: String = String::from_utf8_lossy(&bytes).chars().take(120).collect();
                return self.failed(kind, &format!("{status} {text}")).await;
            }
            let took = began.elapsed().as_secs_f64();
            let mut measured = self.measured.lock().await;
            measured.took.entry(kind).or_default().push(took);
            return Some(bytes.to_vec());
        }
        self.failed(kind, "turned away too often").await
    }

    async fn failed<T>(&self, kind: &str, why: &str) -> Option<T> {
        let mut measured = self.measured.lock().await;
        *measured.errors.entry(format!("{kind}: {why}")).or_default() += 1;
        None
    }

    /// The cookie that goes with a question, for a program that asks in one's name.
    pub fn cookie(&self) -> Result<String, Failure> {
        let held = self.cookies.cookies(&self.url.parse()?);
        let held = held.ok_or("nobody is signed in")?;
        Ok(held.to_str()?.to_owned())
    }

    pub async fn sign_in(&self, name: &str) -> Option<Value> {
        let body = json!({"name": name, "password": PASSWORD});
        self.ask("sign in", Method::POST, "/api/sign-in", Some(&body))
            .await
    }
}

impl Measured {
    /// A table of how long each kind of request took, and what failed.
    pub fn print(&self) {
        println!(
            "{:<10} {:>7} {:>9} {:>9} {:>9} {:>9}",
            "kind", "asked", "p50 ms", "p95 ms", "p99 ms", "most ms"
        );
        for (kind, took) in &self.took {
            let mut sorted = took.clone();
            sorted.sort_by(f64::total_cmp);
            let at =
                |share: f64| 1e3 * sorted[((sorted.len() - 1) as f64 * share).round() as usize];
            println!(
                "{kind:<10} {:>7} {:>9.1} {:>9.1} {:>9.1} {:>9.1}",
                sorted.len(),
                at(0.5),
                at(0.95),
                at(0.99),
                at(1.0)
            );
        }
        let errors: usize = self.errors.values().sum();
        println!(
            "turned away and come again: {}; errors: {errors}",
            self.turned_away
        );
        for (what, count) in &self.errors {
            println!("  {count} × {what}");
        }
    }
}
