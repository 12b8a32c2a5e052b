//! Documents, files and questions as nobody would make them: drawn from what the API says of itself, and good ones that
//! were damaged. What takes them in must neither panic nor hang nor swell, and keep nothing of what it refuses.

pub mod arbitrary;
pub mod damage;
pub mod kept;
pub mod sequence;
pub mod targets;
pub mod watch;
pub mod words;
