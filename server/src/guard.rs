//! Who may talk to the server: only pages it served itself, only under names that are its own.

use crate::error::ApiError;
use actix_web::body::{BoxBody, MessageBody};
use actix_web::dev::{ServiceRequest, ServiceResponse};
use actix_web::http::{Method, header};
use actix_web::middleware::Next;
use actix_web::{Error, ResponseError};
use std::net::IpAddr;

/// The names under which this server may be asked.
#[derive(Clone, Debug)]
pub struct Names {
    /// Names beside `localhost` and plain addresses that the person allowed.
    pub allowed: Vec<String>,
    /// Whether the server listens on this machine alone.
    pub loopback_only: bool,
}

impl Names {
    /// True when `host`, with or without a port, is one of ours.
    ///
    /// A foreign page can make its own name point here (DNS rebinding) but cannot make a browser
    /// send a plain address for it; so addresses pass, foreign names do not.
    #[must_use]
    pub fn is_ours(&self, host: &str) -> bool {
        let name = without_port(host);
        if name.eq_ignore_ascii_case("localhost")
            || self.allowed.iter().any(|a| a.eq_ignore_ascii_case(name))
        {
            return true;
        }
        name.trim_matches(['[', ']'])
            .parse::<IpAddr>()
            .is_ok_and(|ip| !self.loopback_only || ip.is_loopback())
    }
}

fn without_port(host: &str) -> &str {
    match host.rfind(':') {
        // A bare IPv6 address in brackets has colons of its own.
        Some(at) if !host[at..].contains(']') => &host[..at],
        _ => host,
    }
}

/// A header that decides who may do what: none, or one that can be read.
fn one<'r>(
    request: &'r ServiceRequest,
    name: &header::HeaderName,
) -> Result<Option<&'r str>, ApiError> {
    let mut all = request.headers().get_all(name);
    let first = all.next();
    let text = first.map(|value| value.to_str()).transpose();
    match (text, all.next()) {
        (Ok(text), None) => Ok(text),
        (Err(_), _) | (_, Some(_)) => Err(ApiError::Foreign(
            "A header that says where this comes from is doubled or cannot be read.",
        )),
    }
}

/// Why a request does not come from a page of ours, where it does not.
fn foreign(request: &ServiceRequest) -> Result<(), ApiError> {
    let names = request
        .app_data::<actix_web::web::Data<Names>>()
        .expect("the names are set when the server is built");
    let host = one(request, &header::HOST)?.unwrap_or_default();
    if !names.is_ours(host) {
        return Err(ApiError::Foreign(
            "This server does not answer under that name. Open it by its address, or allow the name when starting it.",
        ));
    }
    let writes = !matches!(
        *request.method(),
        Method::GET | Method::HEAD | Method::OPTIONS
    );
    let own = one(request, &header::ORIGIN)?
        .is_none_or(|o| o.split_once("://").is_some_and(|(_, from)| from == host));
    let site = header::HeaderName::from_static("sec-fetch-site");
    // Whoever says anything else than that it is from here, or from nobody's page, is from elsewhere.
    let is_from_here = one(request, &site)?.is_none_or(|site| {
        ["same-origin", "none"]
            .iter()
            .any(|own| site.eq_ignore_ascii_case(own))
    });
    if writes && !(own && is_from_here) {
        return Err(ApiError::Foreign(
            "A page from somewhere else may not write here.",
        ));
    }
    Ok(())
}

/// Refuses foreign hosts and origins, and gives every answer its security headers.
pub async fn guard(
    request: ServiceRequest,
    next: Next<impl MessageBody + 'static>,
) -> Result<ServiceResponse<BoxBody>, Error> {
    let mut response = match foreign(&request) {
        Ok(()) => next.call(request).await?.map_into_boxed_body(),
        Err(refused) => request.into_response(refused.error_response()),
    };
    let headers = response.headers_mut();
    for (name, value) in [
        (
            "content-security-policy",
            "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
        ),
        ("x-content-type-options", "nosniff"),
        ("referrer-policy", "no-referrer"),
        ("cross-origin-opener-policy", "same-origin"),
        ("cross-origin-resource-policy", "same-origin"),
    ] {
        headers.insert(
            header::HeaderName::from_static(name),
            header::HeaderValue::from_static(value),
        );
    }
    Ok(response)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_own_names_pass() {
        let home = Names {
            allowed: vec!["table.lan".into()],
            loopback_only: false,
        };
        let alone = Names {
            allowed: vec![],
            loopback_only: true,
        };
        #[rustfmt::skip]
        let cases = [
            ("localhost:8080",    true,  true),
            ("127.0.0.1:8080",    true,  true),
            ("[::1]:8080",        true,  true),
            ("192.168.1.4:8080",  true,  false),
            ("table.lan",         true,  false),
            ("evil.example:8080", false, false),
            ("",                  false, false),
        ];
        for (host, in_home, in_alone) in cases {
            assert_eq!(
                (home.is_ours(host), alone.is_ours(host)),
                (in_home, in_alone),
                "{host}"
            );
        }
    }
}
