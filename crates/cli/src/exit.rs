//! Exit codes. Where several apply, a wrong file comes before what could not be judged, and that before what broke.

/// Every promise holds.
pub const HOLDS: i32 = 0;
/// Some promise breaks.
pub const BROKEN: i32 = 1;
/// The request or a file is wrong.
pub const WRONG: i32 = 2;
/// Something could not be judged.
pub const UNJUDGED: i32 = 3;
