//! Over a network: by HTTPS with a certificate of one's own, or behind a proxy that has one.

use std::net::SocketAddr;
use std::path::Path;

use crate::common::School;
use axum::http::StatusCode;
use cimento_server::certificate::Certificate;
use cimento_server::connections::{Limits, serve};
use cimento_server::{AppState, router};
use cimento_store::{Role, Store};
use rcgen::{CertifiedKey, generate_simple_self_signed};
use reqwest::{Client, Response};
use serde_json::json;
use tempfile::TempDir;
use tokio::net::TcpListener;

fn write(folder: &Path, name: &str, text: &str) -> std::path::PathBuf {
    let path = folder.join(name);
    std::fs::write(&path, text).unwrap();
    path
}

struct Site {
    at: SocketAddr,
    folder: TempDir,
    /// The certificate as PEM.
    trusted: String,
}

/// A school served on a port of this machine.
async fn site(secure: bool, proxies: &[&str]) -> Site {
    let folder = tempfile::tempdir().unwrap();
    let store = Store::open(&folder.path().join("school.db")).unwrap();
    store
        .add_user("varga", "I. Varga", Role::Student, "red-and-black")
        .unwrap();
    let CertifiedKey { cert, signing_key } =
        generate_simple_self_signed(["localhost".to_owned()]).unwrap();
    let chain = write(folder.path(), "chain.pem", &cert.pem());
    let key = write(folder.path(), "key.pem", &signing_key.serialize_pem());
    let certificate = secure.then(|| Certificate::read(&chain, &key).unwrap());
    let proxies = proxies.iter().map(|p| p.parse().unwrap()).collect();
    let state = AppState::new(store, folder.path().to_owned()).behind(proxies);
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap();
    let limits = Limits::of_this_machine();
    tokio::spawn(async move {
        let end = std::future::pending();
        serve(listener, router(state), limits, certificate, end)
            .await
            .unwrap();
    });
    Site {
        at,
        folder,
        trusted: cert.pem(),
    }
}

fn head<'a>(answer: &'a Response, name: &str) -> &'a str {
    let value = answer.headers().get(name);
    value.map_or("", |v| v.to_str().unwrap())
}

async fn sign_in(client: &Client, url: &str, stay: bool) -> Response {
    let body = json!({"name": "varga", "password": "red-and-black", "stay": stay});
    let asked = client.post(format!("{url}/api/sign-in")).json(&body);
    asked.send().await.unwrap()
}

#[tokio::test]
async fn with_a_certificate_everything_goes_by_https() {
    let site = site(true, &[]).await;
    let trusted = reqwest::Certificate::from_pem(site.trusted.as_bytes()).unwrap();
    let client = Client::builder()
        .add_root_certificate(trusted)
        .cookie_store(true)
        .build()
        .unwrap();
    let url = format!("https://localhost:{}", site.at.port());
    let answer = sign_in(&client, &url, false).await;
    assert_eq!(answer.status(), 200);
    assert!(head(&answer, "strict-transport-security").starts_with("max-age="));
    let cookie = head(&answer, "set-cookie");
    assert!(cookie.starts_with("__Host-cimento="), "{cookie}");
    for said in ["Secure", "HttpOnly", "SameSite=Strict", "Path=/"] {
        assert!(cookie.contains(said), "{cookie}");
    }
    // It ends with the browser, unless one asks for more.
    assert!(!cookie.contains("Max-Age"), "{cookie}");
    let longer = sign_in(&client, &url, true).await;
    let cookie = head(&longer, "set-cookie");
    assert!(cookie.contains("Max-Age=1209600"), "{cookie}");
    let me = client.get(format!("{url}/api/me")).send().await.unwrap();
    assert_eq!(me.status(), 200);
    let health = client.get(format!("{url}/health")).send().await.unwrap();
    assert_eq!(health.text().await.unwrap(), r#"{"status":"ok"}"#);
    // Who does not speak it, or does not trust it, hears nothing.
    let plain = format!("http://{}/api/me", site.at);
    assert!(client.get(plain).send().await.is_err());
    assert!(
        Client::new()
            .get(format!("{url}/api/me"))
            .send()
            .await
            .is_err()
    );
}

#[tokio::test]
async fn a_certificate_that_is_none_is_told() {
    let site = site(false, &[]).await;
    let folder = site.folder.path();
    let (chain, key) = (folder.join("chain.pem"), folder.join("key.pem"));
    let told = |chain: &Path, key: &Path| match Certificate::read(chain, key) {
        Ok(_) => String::new(),
        Err(e) => e.to_string(),
    };
    assert_eq!(told(&chain, &key), "");
    assert!(told(&folder.join("none.pem"), &key).contains("none.pem"));
    assert!(told(&key, &key).contains("it holds none"));
    assert!(told(&chain, &chain).contains("expected a private key"));
    let other = generate_simple_self_signed(["localhost".to_owned()]).unwrap();
    let other = write(folder, "other.pem", &other.signing_key.serialize_pem());
    assert!(told(&chain, &other).contains("do not go together"));
}

/// What a proxy says of how it was asked is believed of one that is trusted, and of nobody else.
#[tokio::test]
async fn behind_a_proxy_cookies_are_as_by_https() {
    for (proxies, name) in [
        (&["127.0.0.1/32"][..], "__Host-cimento="),
        (&["10.0.0.0/8"], "cimento_session="),
    ] {
        let site = site(false, proxies).await;
        let body = json!({"name": "varga", "password": "red-and-black"});
        let asked = Client::new()
            .post(format!("http://{}/api/sign-in", site.at))
            .header("X-Forwarded-For", "192.0.2.5")
            .header("X-Forwarded-Proto", "https")
            .json(&body);
        let answer = asked.send().await.unwrap();
        let cookie = head(&answer, "set-cookie");
        assert!(cookie.starts_with(name), "{cookie}");
        let https_only = !head(&answer, "strict-transport-security").is_empty();
        assert_eq!(https_only, name.starts_with("__Host"));
    }
}

/// The page is at every address of its own; a file that is missing is said to be, and not answered with the page.
#[tokio::test]
async fn a_missing_file_is_no_page() {
    let school = School::new();
    let folder = school.files()[0].parent().unwrap().to_owned();
    std::fs::write(folder.join("index.html"), "<!doctype html>the page").unwrap();
    for (path, status) in [
        ("/", StatusCode::OK),
        ("/circuits/1/lessons", StatusCode::OK),
        ("/assets/gone-1a2b.js", StatusCode::NOT_FOUND),
        ("/favicon.ico", StatusCode::NOT_FOUND),
    ] {
        let answer = school.ask("GET", path, None, None).await;
        assert_eq!(answer.status, status, "{path}: {}", answer.text);
        assert_eq!(
            answer.text.contains("the page"),
            status == StatusCode::OK,
            "{path}"
        );
    }
}

/// Who signs out is out, also where it cannot be stored.
#[tokio::test]
async fn one_who_signs_out_is_out_though_the_file_is_gone() {
    let school = School::new();
    let varga = school.sign_in("varga", "red-and-black").await;
    let files = school.files();
    let file = files
        .iter()
        .find(|f| f.extension().is_some_and(|e| e == "db"));
    std::fs::remove_file(file.unwrap()).unwrap();
    let me = school.ask("GET", "/api/me", Some(&varga), None).await;
    assert_eq!(
        me.status,
        StatusCode::OK,
        "what can be read is read: {}",
        me.text
    );
    let body = json!({"name": "varga", "password": "red-and-black"});
    let refused = school.ask("POST", "/api/sign-in", None, Some(body)).await;
    assert_eq!(
        refused.status,
        StatusCode::INSUFFICIENT_STORAGE,
        "{}",
        refused.text
    );
    assert!(
        refused.text.contains("moved or deleted"),
        "{}",
        refused.text
    );
    let out = school
        .ask("POST", "/api/sign-out", Some(&varga), None)
        .await;
    assert_eq!(out.status, StatusCode::NO_CONTENT, "{}", out.text);
    let me = school.ask("GET", "/api/me", Some(&varga), None).await;
    assert_eq!(me.status, StatusCode::UNAUTHORIZED, "{}", me.text);
}
