//! x
use suspect_print_files::made::*;
fn main(){ let a=std::env::args().nth(1).unwrap_or_default(); let mut r=Recipe::default();
 match a.as_str(){ "home"=>r.start=Start::HomesOnly, "fan"=>r.fan_change=Some((20.0,40.0)), "air"=>r.hollow=Some(false), "sup"=>r.hollow=Some(true), "plain"=>{r.marked=false;r.settings=false;r.relative=false}, _=>{} }
 let (t,truth)=file(&r); print!("{t}"); eprintln!("{truth:?}"); }
