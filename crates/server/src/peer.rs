//! Where a request comes from: the other end of its connection, or who a trusted proxy says it asks for.

use std::convert::Infallible;
use std::net::{IpAddr, Ipv4Addr};
use std::sync::Arc;

use axum::extract::{FromRequestParts, Request, State};
use axum::http::request::Parts;
use axum::http::{HeaderMap, HeaderValue, header};
use axum::middleware::Next;
use axum::response::Response;
use ipnet::IpNet;

/// The header by which a proxy says for whom it asks, and the one that says how they asked it.
const FOR: &str = "x-forwarded-for";
const HOW: &str = "x-forwarded-proto";
/// Half a year: a browser asks this host by HTTPS only.
const HTTPS_ONLY: HeaderValue = HeaderValue::from_static("max-age=15552000");

/// Who asks, and whether nobody on the way can listen.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub struct Peer {
    pub address: IpAddr,
    pub secure: bool,
}

impl Default for Peer {
    /// This machine itself.
    fn default() -> Self {
        Self {
            address: Ipv4Addr::LOCALHOST.into(),
            secure: false,
        }
    }
}

impl Peer {
    /// Who it is that a connection's other end asks for. A proxy appends whom it heard: what stands before the
    /// first that is no trusted proxy, from the end, may be made up.
    fn behind(self, proxies: &[IpNet], headers: &HeaderMap) -> Self {
        let trusted = |address: &IpAddr| {
            let address = address.to_canonical();
            proxies.iter().any(|net| net.contains(&address))
        };
        if !trusted(&self.address) {
            return self;
        }
        let said = |name: &str| {
            let all = headers.get_all(name).iter();
            let words = all
                .filter_map(|v| v.to_str().ok())
                .flat_map(|v| v.split(','));
            words.map(|w| w.trim().to_owned()).collect::<Vec<_>>()
        };
        let chain = said(FOR);
        let heard = chain.iter().rev().map_while(|w| w.parse::<IpAddr>().ok());
        let mut address = self.address;
        for other in heard {
            address = other;
            if !trusted(&other) {
                break;
            }
        }
        Self {
            address: address.to_canonical(),
            secure: said(HOW).last().is_some_and(|how| how == "https"),
        }
    }
}

impl<S: Send + Sync> FromRequestParts<S> for Peer {
    type Rejection = Infallible;

    async fn from_request_parts(parts: &mut Parts, _: &S) -> Result<Self, Infallible> {
        Ok(parts.extensions.get().copied().unwrap_or_default())
    }
}

/// Finds out where a request comes from; what came by HTTPS is to come so for ever.
pub(crate) async fn whence(
    State(proxies): State<Arc<[IpNet]>>,
    mut request: Request,
    next: Next,
) -> Response {
    let end: Peer = request.extensions().get().copied().unwrap_or_default();
    let peer = end.behind(&proxies, request.headers());
    request.extensions_mut().insert(peer);
    let mut response = next.run(request).await;
    if peer.secure {
        let headers = response.headers_mut();
        headers.insert(header::STRICT_TRANSPORT_SECURITY, HTTPS_ONLY);
    }
    response
}

#[cfg(test)]
#[allow(clippy::unwrap_used)]
mod tests {
    use super::*;

    #[test]
    fn only_a_trusted_proxy_is_believed() {
        let proxies: Vec<IpNet> = vec!["10.0.0.0/8".parse().unwrap()];
        let found = |end: &str, heard: &[&'static str]| {
            let end = Peer {
                address: end.parse().unwrap(),
                secure: false,
            };
            let mut headers = HeaderMap::new();
            for value in heard {
                headers.append(FOR, HeaderValue::from_static(value));
            }
            headers.insert(HOW, HeaderValue::from_static("https"));
            let peer = end.behind(&proxies, &headers);
            (peer.address.to_string(), peer.secure)
        };
        let is = |address: &str, secure| (address.to_owned(), secure);
        assert_eq!(found("192.0.2.1", &["203.0.113.9"]), is("192.0.2.1", false));
        assert_eq!(found("10.1.1.1", &["203.0.113.9"]), is("203.0.113.9", true));
        // What the asker made up stands before what the proxy heard.
        assert_eq!(
            found("10.1.1.1", &["192.0.2.66, 203.0.113.9"]),
            is("203.0.113.9", true)
        );
        assert_eq!(
            found("10.1.1.1", &["192.0.2.66", "203.0.113.9, 10.2.2.2"]),
            is("203.0.113.9", true)
        );
        assert_eq!(found("10.1.1.1", &["somebody"]), is("10.1.1.1", true));
        assert_eq!(
            found("::ffff:10.1.1.1", &["2001:db8::9"]),
            is("2001:db8::9", true)
        );
        assert_eq!(found("10.1.1.1", &[]), is("10.1.1.1", true));
    }
}
