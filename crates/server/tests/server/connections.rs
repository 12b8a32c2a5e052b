//! Connections: who opens many, or leaves a request half sent, shuts nobody out and holds up no end.

use std::net::SocketAddr;
use std::time::{Duration, Instant};

use axum::Router;
use axum::routing::{get, post};
use cimento_server::connections::{Limits, serve};
use tokio::io::{AsyncReadExt, AsyncWriteExt};
use tokio::net::{TcpListener, TcpStream};
use tokio::sync::oneshot;
use tokio::task::JoinHandle;

const LIMITS: Limits = Limits {
    most: 20,
    head: Duration::from_millis(400),
    body: Duration::from_millis(400),
};
/// Nothing here takes so long unless it hangs.
const LONG: Duration = Duration::from_secs(10);

struct Served {
    at: SocketAddr,
    end: Option<oneshot::Sender<()>>,
    task: JoinHandle<()>,
}

async fn served(limits: Limits) -> Served {
    let app = Router::new()
        .route("/", get(|| async { "here" }))
        .route(
            "/slow",
            get(|| async {
                tokio::time::sleep(Duration::from_millis(900)).await;
                "at last"
            }),
        )
        .route("/said", post(|said: String| async move { said }));
    let listener = TcpListener::bind("127.0.0.1:0").await.unwrap();
    let at = listener.local_addr().unwrap();
    let (end, ended) = oneshot::channel();
    let task = tokio::spawn(async move {
        let end = async {
            let _ = ended.await;
        };
        serve(listener, app, limits, None, end).await.unwrap();
    });
    Served {
        at,
        end: Some(end),
        task,
    }
}

impl Served {
    async fn connection(&self) -> TcpStream {
        TcpStream::connect(self.at).await.unwrap()
    }

    async fn ask(&self, text: &str) -> String {
        let mut stream = self.connection().await;
        stream.write_all(text.as_bytes()).await.unwrap();
        all_of(&mut stream).await
    }

    async fn get(&self, path: &str) -> String {
        let text = format!("GET {path} HTTP/1.1\r\nHost: here\r\nConnection: close\r\n\r\n");
        self.ask(&text).await
    }
}

/// What comes until the other side ends it.
async fn all_of(stream: &mut TcpStream) -> String {
    let mut text = Vec::new();
    let read = tokio::time::timeout(LONG, stream.read_to_end(&mut text)).await;
    // A connection that is cut off has said what it said.
    let _ = read.expect("the other side never ended it");
    String::from_utf8_lossy(&text).into_owned()
}

#[tokio::test]
async fn many_that_rest_shut_nobody_out() {
    let served = served(Limits {
        head: LONG * 3,
        ..LIMITS
    })
    .await;
    let mut resting = Vec::new();
    for _ in 0..60 {
        resting.push(served.connection().await);
    }
    // Half a request is rest too, and so is half a body.
    for text in [
        "GET / HT",
        "POST /said HTTP/1.1\r\nHost: here\r\nContent-Length: 9\r\n\r\nhalf",
    ] {
        for _ in 0..30 {
            let mut one = served.connection().await;
            one.write_all(text.as_bytes()).await.unwrap();
            resting.push(one);
        }
    }
    for _ in 0..5 {
        assert!(served.get("/").await.ends_with("here"));
    }
}

#[tokio::test]
async fn who_is_being_answered_is_not_put_out() {
    let served = served(LIMITS).await;
    let slow = served.get("/slow");
    let flood = async {
        let mut all = Vec::new();
        for _ in 0..100 {
            all.push(served.connection().await);
        }
        all
    };
    let (answer, _resting) = tokio::join!(slow, flood);
    assert!(answer.ends_with("at last"), "{answer}");
}

#[tokio::test]
async fn nobody_waits_for_a_request_that_never_comes() {
    let served = served(LIMITS).await;
    for text in ["", "GET / HTTP/1.1\r\nHost: he"] {
        let began = Instant::now();
        served.ask(text).await;
        assert!(
            began.elapsed() >= LIMITS.head / 2,
            "“{text}” was cut off at once"
        );
    }
    // A connection is kept for the next request, for as long.
    let answers = served.ask("GET / HTTP/1.1\r\nHost: here\r\n\r\n").await;
    assert!(
        answers.contains("200 OK") && answers.ends_with("here"),
        "{answers}"
    );
    let half = "POST /said HTTP/1.1\r\nHost: here\r\nContent-Length: 9\r\n\r\nhalf";
    let answer = served.ask(half).await;
    assert!(!answer.contains("200 OK"), "{answer}");
}

#[tokio::test]
async fn the_end_waits_for_answers_and_for_nobody_else() {
    let mut served = served(LIMITS).await;
    let _resting = served.connection().await;
    let mut asking = served.connection().await;
    asking
        .write_all(b"GET /slow HTTP/1.1\r\nHost: here\r\n\r\n")
        .await
        .unwrap();
    tokio::time::sleep(Duration::from_millis(200)).await;
    served.end.take().unwrap().send(()).unwrap();
    assert!(all_of(&mut asking).await.ends_with("at last"));
    tokio::time::timeout(LONG, served.task)
        .await
        .unwrap()
        .unwrap();
}
