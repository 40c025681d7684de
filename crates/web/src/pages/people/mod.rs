//! Members: the way in and out, invitations, one's own sessions, shared stations.

pub mod feeds;
pub mod invited;
pub mod kept;
pub mod members;
pub mod noted;
pub mod own;
pub mod pin;
pub mod sign_in;
pub mod station;
pub mod stations;
