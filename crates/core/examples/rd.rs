use std::time::Instant;
/// E and time by looking at each byte in turn.
pub fn plain(bytes: &[u8]) -> (f64, f64) {
    #[derive(PartialEq)] enum S { Start, Word, Number, Comment }
    let mut s = S::Start; let mut letter = 0u8; let mut m = 0u64; let mut dec = 0i32; let mut point=false; let mut neg=false;
    let mut v=[0.0f64;26]; let mut set=0u32; let mut pos=[0.0f64;3]; let mut f=1500.0; let (mut e, mut t)=(0.0,0.0);
    const T:[f64;16]=[1.0,1e1,1e2,1e3,1e4,1e5,1e6,1e7,1e8,1e9,1e10,1e11,1e12,1e13,1e14,1e15];
    for &b in bytes {
        if s == S::Comment && b != b'\n' { continue; }
        match b {
            b'0'..=b'9' => { m = m.wrapping_mul(10).wrapping_add((b-b'0') as u64); if point { dec+=1; } s = S::Number; }
            b'.' => point = true,
            b'-' => neg = true,
            _ => {
                if s == S::Number { let x = m as f64 / T[(dec as usize).min(15)]; v[letter as usize]= if neg {-x} else {x}; set |= 1<<letter; }
                m=0; dec=0; point=false; neg=false;
                match b {
                    b'A'..=b'Z' => { letter=b-b'A'; s=S::Word; }
                    b';' => s=S::Comment,
                    b'\n' => {
                        if set & (1<<6) != 0 && v[6] <= 1.0 {
                            if set & (1<<5)!=0 { f=v[5]; }
                            let mut d=0.0;
                            for (i,l) in [23,24,25].into_iter().enumerate() { if set & (1<<l) != 0 { let q=v[l]-pos[i]; d+=q*q; pos[i]=v[l]; } }
                            let de = if set & (1<<4) != 0 { v[4] } else { 0.0 };
                            e += de; let len = if d>0.0 { d.sqrt() } else { de.abs() }; t += len/f*60.0;
                        }
                        set=0; s=S::Start;
                    }
                    _ => s=S::Start,
                }
            }
        }
    }
    (e,t)
}
fn main(){ let p=std::env::args().nth(1).unwrap(); let b=std::fs::read(p).unwrap();
 for _ in 0..3 { let t=Instant::now(); let r=plain(&b); let d=t.elapsed().as_secs_f64(); println!("plain {:.3}s {:.0} MB/s {:?}", d, b.len() as f64/1e6/d, r);}
 for _ in 0..3 { let t=Instant::now(); let mut r=suspect_core::gcode::Reader::new(); for c in b.chunks(65536){ r.feed(c);} let g=r.finish(); let d=t.elapsed().as_secs_f64();
 println!("{:.3}s {:.0} MB/s layers {} time {:.0} plain {:.0}", d, b.len() as f64/1e6/d, g.layers.len(), g.sum(|l|l.time), g.sum(|l|l.plain_time)); } }
