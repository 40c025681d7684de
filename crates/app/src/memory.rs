//! The C library's allocator, told to hand back what pictures needed for a moment.

/// Blocks from this size on are handed back to the system as soon as they are done with, and
/// threads share two heaps. Left to itself the allocator learns from the first picture to keep such
/// blocks, in a heap for each thread: sixty uploads at once leave hundreds of megabytes in pieces.
#[cfg(all(target_os = "linux", target_env = "gnu"))]
const SETTINGS: [(&str, &str); 3] = [
    ("MALLOC_MMAP_THRESHOLD_", "262144"),
    ("MALLOC_TRIM_THRESHOLD_", "1048576"),
    ("MALLOC_ARENA_MAX", "2"),
];

/// Begins this program anew with the allocator's settings, which it reads only at its begin. The
/// process stays the same one. Does nothing where they are set already, by us or by whoever runs
/// it.
#[cfg(all(target_os = "linux", target_env = "gnu"))]
pub fn hand_back_large_blocks() {
    use std::os::unix::process::CommandExt;
    if std::env::var_os(SETTINGS[0].0).is_some() {
        return;
    }
    let (Ok(program), mut said) = (std::env::current_exe(), std::env::args_os()) else {
        return;
    };
    let mut anew = std::process::Command::new(program);
    if let Some(name) = said.next() {
        anew.arg0(name);
    }
    // It comes back only with an error, and then works as well, with more memory.
    let _ = anew.args(said).envs(SETTINGS).exec();
}

/// Other C libraries hand large blocks back by themselves.
#[cfg(not(all(target_os = "linux", target_env = "gnu")))]
pub fn hand_back_large_blocks() {}
