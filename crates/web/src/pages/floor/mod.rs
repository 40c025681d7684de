//! The floor: machines, what holds them, the workshop and who is here.

pub mod before;
pub mod devices;
pub mod learning;
pub mod machine_edit;
pub mod machine_stop;
pub mod me;
pub mod overview;
pub mod workshop;
