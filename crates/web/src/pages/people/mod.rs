//! Members: the way in and out, invitations, one's own sessions.

pub mod invited;
pub mod members;
pub mod own;
pub mod sign_in;
