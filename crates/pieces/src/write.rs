//! STL (binary) and 3MF, both in millimetres, without dates: the same mesh gives the same bytes.

use crate::mesh::Mesh;
use std::fmt::Write as _;
use std::io::{Cursor, Write as _};
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, DateTime, ZipWriter};

/// Binary STL: 80 bytes of name, the count, 50 bytes a triangle.
pub fn stl(mesh: &Mesh, name: &str) -> Vec<u8> {
    let mut bytes = Vec::with_capacity(84 + 50 * mesh.triangles.len());
    let mut head = [0_u8; 80];
    for (to, from) in head.iter_mut().zip(name.bytes()) {
        *to = from;
    }
    bytes.extend(head);
    bytes.extend((mesh.triangles.len() as u32).to_le_bytes());
    for triangle in &mesh.triangles {
        let corners = triangle.map(|k| mesh.points[k as usize].map(|v| f64::from(v) / 1000.0));
        let numbers = std::iter::once(normal(corners)).chain(corners);
        for value in numbers.flatten() {
            bytes.extend((value as f32).to_le_bytes());
        }
        bytes.extend([0, 0]);
    }
    bytes
}

fn normal([a, b, c]: [[f64; 3]; 3]) -> [f64; 3] {
    let from_a = |p: [f64; 3]| [p[0] - a[0], p[1] - a[1], p[2] - a[2]];
    let (u, v) = (from_a(b), from_a(c));
    let cross = [
        u[1] * v[2] - u[2] * v[1],
        u[2] * v[0] - u[0] * v[2],
        u[0] * v[1] - u[1] * v[0],
    ];
    let length = cross.iter().map(|x| x * x).sum::<f64>().sqrt();
    if length > 0.0 {
        cross.map(|x| x / length)
    } else {
        [0.0; 3]
    }
}

const CONTENT_TYPES: &str = concat!(
    r#"<?xml version="1.0" encoding="UTF-8"?>"#,
    "\n",
    r#"<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">"#,
    r#"<Default Extension="rels" "#,
    r#"ContentType="application/vnd.openxmlformats-package.relationships+xml"/>"#,
    r#"<Default Extension="model" "#,
    r#"ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>"#,
    "\n"
);

const RELATIONS: &str = concat!(
    r#"<?xml version="1.0" encoding="UTF-8"?>"#,
    "\n",
    r#"<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">"#,
    r#"<Relationship Target="/3D/3dmodel.model" Id="r0" "#,
    r#"Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>"#,
    "\n"
);

/// 3MF with one object of this name.
///
/// # Errors
///
/// Only where memory cannot be written, which does not happen.
pub fn three_mf(mesh: &Mesh, name: &str) -> std::io::Result<Vec<u8>> {
    // Once any crate turns the zip crate's clock on, its default date is now.
    let options = SimpleFileOptions::default()
        .compression_method(CompressionMethod::Deflated)
        .compression_level(Some(2))
        .last_modified_time(DateTime::default());
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let files = [
        ("[Content_Types].xml", CONTENT_TYPES.to_owned()),
        ("_rels/.rels", RELATIONS.to_owned()),
        ("3D/3dmodel.model", model(mesh, name)),
    ];
    for (path, text) in files {
        zip.start_file(path, options)?;
        zip.write_all(text.as_bytes())?;
    }
    Ok(zip.finish()?.into_inner())
}

fn model(mesh: &Mesh, name: &str) -> String {
    let mut xml = String::with_capacity(64 * (mesh.points.len() + mesh.triangles.len()));
    xml += "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<model unit=\"millimeter\" \
        xml:lang=\"en-US\" xmlns=\"http://schemas.microsoft.com/3dmanufacturing/core/2015/02\">\
        <resources>";
    let _ = write!(
        xml,
        "<object id=\"1\" type=\"model\" name=\"{name}\"><mesh><vertices>"
    );
    for point in &mesh.points {
        let [x, y, z] = point.map(mm);
        let _ = write!(xml, "<vertex x=\"{x}\" y=\"{y}\" z=\"{z}\"/>");
    }
    xml += "</vertices><triangles>";
    for [a, b, c] in &mesh.triangles {
        let _ = write!(xml, "<triangle v1=\"{a}\" v2=\"{b}\" v3=\"{c}\"/>");
    }
    xml +=
        "</triangles></mesh></object></resources><build><item objectid=\"1\"/></build></model>\n";
    xml
}

/// Micrometres as millimetres, without going through a float.
fn mm(um: i32) -> String {
    let sign = if um < 0 { "-" } else { "" };
    format!(
        "{sign}{}.{:03}",
        um.unsigned_abs() / 1000,
        um.unsigned_abs() % 1000
    )
}
