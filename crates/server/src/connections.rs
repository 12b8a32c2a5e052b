//! Connections. Each may take its time, but not for ever, and one person who opens as many as they can shuts nobody
//! out: when no more can be held, the one goes that has rested longest. A connection rests until a whole request
//! has come, and again once its answer has gone.

use std::collections::HashMap;
use std::convert::Infallible;
use std::io;
use std::pin::Pin;
use std::sync::atomic::{AtomicBool, Ordering};
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};
use std::task::{Context, Poll};
use std::time::{Duration, Instant};

use axum::Router;
use axum::body::Body;
use axum::http::Request;
use http_body::{Body as HttpBody, Frame, SizeHint};
use hyper::body::Incoming;
use hyper::server::conn::http1;
use hyper::service::service_fn;
use hyper_util::rt::{TokioIo, TokioTimer};
use hyper_util::server::graceful::GracefulShutdown;
use tokio::net::{TcpListener, TcpStream};
use tokio::task::AbortHandle;
use tokio::time::timeout;
use tower::ServiceExt;
use tower_http::timeout::RequestBodyTimeoutLayer;

use crate::certificate::Certificate;
use crate::peer::Peer;

/// Files of the program beside its connections: the database's, the page's, its own.
const OTHER_FILES: u64 = 200;
/// No program needs more: a large school's classes at once.
const MOST: u64 = 8_000;
/// How long is waited before a connection is taken that the system could not give.
const AGAIN: Duration = Duration::from_millis(50);

/// What connections may take.
#[derive(Debug, Clone, Copy)]
pub struct Limits {
    /// Connections at once.
    pub most: usize,
    /// From the end of an answer, or the beginning of the connection, to the end of a request's head.
    pub head: Duration,
    /// From one piece of a body to the next.
    pub body: Duration,
}

impl Limits {
    /// What this machine lets one have.
    pub fn of_this_machine() -> Self {
        let files = most_files();
        Self {
            most: usize::try_from(files.saturating_sub(OTHER_FILES).clamp(50, MOST)).unwrap_or(50),
            head: Duration::from_secs(20),
            body: Duration::from_secs(20),
        }
    }
}

/// Files that the program may have open, after asking for as many as it may have.
fn most_files() -> u64 {
    use rustix::process::{Resource, Rlimit, getrlimit, setrlimit};
    let may = getrlimit(Resource::Nofile);
    let wanted = may
        .maximum
        .map_or(MOST + OTHER_FILES, |m| m.min(MOST + OTHER_FILES));
    if may.current.is_some_and(|now| now < wanted) {
        let more = Rlimit {
            current: Some(wanted),
            maximum: may.maximum,
        };
        // Where that is refused, what there is has to do.
        let _ = setrlimit(Resource::Nofile, more);
    }
    getrlimit(Resource::Nofile).current.unwrap_or(wanted)
}

/// One connection.
struct Seat {
    /// A whole request has come and its answer has not gone.
    busy: AtomicBool,
    /// When it last became what it is.
    since: Mutex<Instant>,
    ends: Mutex<Option<AbortHandle>>,
}

impl Seat {
    fn turns(&self, busy: bool) {
        self.busy.store(busy, Ordering::Relaxed);
        *self.since.lock().unwrap_or_else(PoisonError::into_inner) = Instant::now();
    }

    fn rests_since(&self) -> Option<Instant> {
        let since = *self.since.lock().unwrap_or_else(PoisonError::into_inner);
        (!self.busy.load(Ordering::Relaxed)).then_some(since)
    }
}

/// All connections, by number.
#[derive(Clone, Default)]
struct Seats(Arc<Mutex<HashMap<u64, Arc<Seat>>>>);

impl Seats {
    fn all(&self) -> MutexGuard<'_, HashMap<u64, Arc<Seat>>> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// Ends the connection that has rested longest; false where all are busy.
    fn make_room(&self) -> bool {
        let mut all = self.all();
        let resting = all
            .iter()
            .filter_map(|(n, seat)| Some((seat.rests_since()?, *n)));
        let Some((_, longest)) = resting.min() else {
            return false;
        };
        if let Some(seat) = all.remove(&longest) {
            let ends = seat
                .ends
                .lock()
                .unwrap_or_else(PoisonError::into_inner)
                .take();
            if let Some(ends) = ends {
                ends.abort();
            }
        }
        true
    }
}

/// Serves a page until it is told to end; then what is being answered is answered.
///
/// # Errors
/// None but those of the listener at its end.
pub async fn serve(
    listener: TcpListener,
    app: Router,
    limits: Limits,
    certificate: Option<Certificate>,
    end: impl Future<Output = ()>,
) -> io::Result<()> {
    let app = app.layer(RequestBodyTimeoutLayer::new(limits.body));
    let seats = Seats::default();
    let ending = GracefulShutdown::new();
    let mut end = std::pin::pin!(end);
    let mut number = 0;
    loop {
        let room = seats.all().len() < limits.most || seats.make_room();
        let next = async {
            match room {
                true => listener.accept().await,
                // All are busy: whoever comes waits with the system.
                false => {
                    tokio::time::sleep(AGAIN).await;
                    Err(io::ErrorKind::WouldBlock.into())
                }
            }
        };
        let (stream, address) = tokio::select! {
            () = &mut end => break,
            next = next => match next {
                Ok(connected) => connected,
                Err(e) if e.kind() == io::ErrorKind::WouldBlock => continue,
                Err(_) => {
                    seats.make_room();
                    tokio::time::sleep(AGAIN).await;
                    continue;
                }
            },
        };
        number += 1;
        let peer = Peer {
            address: address.ip(),
            secure: certificate.is_some(),
        };
        take(
            (stream, peer),
            number,
            &app,
            (limits, certificate.clone()),
            &seats,
            &ending,
        );
    }
    drop(listener);
    ending.shutdown().await;
    Ok(())
}

/// Serves one connection, in a task of its own.
fn take(
    (stream, peer): (TcpStream, Peer),
    number: u64,
    app: &Router,
    (limits, certificate): (Limits, Option<Certificate>),
    seats: &Seats,
    ending: &GracefulShutdown,
) {
    let seat = Arc::new(Seat {
        busy: AtomicBool::new(false),
        since: Mutex::new(Instant::now()),
        ends: Mutex::new(None),
    });
    seats.all().insert(number, Arc::clone(&seat));
    // Small answers go at once.
    let _ = stream.set_nodelay(true);
    let (app, own) = (app.clone(), Arc::clone(&seat));
    let service = service_fn(move |request: Request<Incoming>| {
        let (app, seat) = (app.clone(), Arc::clone(&own));
        async move {
            let mut request = request.map(|body| Body::new(Coming::of(body, &seat)));
            request.extensions_mut().insert(peer);
            let Ok(answer) = app.oneshot(request).await;
            Ok::<_, Infallible>(answer.map(|body| Body::new(Going { body, seat })))
        }
    });
    let mut http = http1::Builder::new();
    http.timer(TokioTimer::new())
        .header_read_timeout(limits.head);
    let (seats, watcher) = (seats.clone(), ending.watcher());
    let task = tokio::spawn(async move {
        // A connection that breaks off is none of the program's business.
        match certificate {
            None => {
                let connection = http.serve_connection(TokioIo::new(stream), service);
                let _ = watcher.watch(connection).await;
            }
            Some(certificate) => {
                let greeted = timeout(limits.head, certificate.acceptor.accept(stream));
                if let Ok(Ok(stream)) = greeted.await {
                    let connection = http.serve_connection(TokioIo::new(stream), service);
                    let _ = watcher.watch(connection).await;
                }
            }
        }
        seats.all().remove(&number);
    });
    *seat.ends.lock().unwrap_or_else(PoisonError::into_inner) = Some(task.abort_handle());
}

/// The body of a request: once it has come whole, its connection is busy.
struct Coming {
    body: Incoming,
    seat: Arc<Seat>,
}

impl Coming {
    fn of(body: Incoming, seat: &Arc<Seat>) -> Self {
        if body.is_end_stream() {
            seat.turns(true);
        }
        Self {
            body,
            seat: Arc::clone(seat),
        }
    }
}

impl HttpBody for Coming {
    type Data = <Incoming as HttpBody>::Data;
    type Error = hyper::Error;

    fn poll_frame(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Self::Data>, Self::Error>>> {
        let frame = Pin::new(&mut self.body).poll_frame(context);
        let ended = matches!(frame, Poll::Ready(None)) || self.body.is_end_stream();
        if ended && frame.is_ready() {
            self.seat.turns(true);
        }
        frame
    }

    fn is_end_stream(&self) -> bool {
        self.body.is_end_stream()
    }

    fn size_hint(&self) -> SizeHint {
        self.body.size_hint()
    }
}

/// The body of an answer: once it has gone, its connection rests.
struct Going {
    body: Body,
    seat: Arc<Seat>,
}

impl Drop for Going {
    fn drop(&mut self) {
        self.seat.turns(false);
    }
}

impl HttpBody for Going {
    type Data = <Body as HttpBody>::Data;
    type Error = <Body as HttpBody>::Error;

    fn poll_frame(
        mut self: Pin<&mut Self>,
        context: &mut Context<'_>,
    ) -> Poll<Option<Result<Frame<Self::Data>, Self::Error>>> {
        Pin::new(&mut self.body).poll_frame(context)
    }

    fn is_end_stream(&self) -> bool {
        self.body.is_end_stream()
    }

    fn size_hint(&self) -> SizeHint {
        self.body.size_hint()
    }
}
