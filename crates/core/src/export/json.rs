//! The whole knowledge as one JSON document, as `docs/knowledge.schema.json` describes it.

use crate::knowledge::{FindingId, Knowledge, School, Section, Side, StopTerm, Trade, Work};
use crate::profile::Condition;
use serde_json::{Value, json};

/// Name and version of the format.
pub const FORMAT: &str = "usual-suspect-knowledge/1";

/// Everything the knowledge holds. Links are the chances the ranking reckons with: words turned
/// into numbers, consequences inherited.
pub fn json(knowledge: &Knowledge) -> Value {
    json!({
        "format": FORMAT,
        "version": knowledge.version,
        "sha256": knowledge.sha256,
        "causes": knowledge.cause_ids().map(|c| cause(knowledge, c)).collect::<Vec<_>>(),
        "findings": (0..knowledge.findings.len() as u16).map(|f| finding(knowledge,
            FindingId(f))).collect::<Vec<_>>(),
        "checks": knowledge.checks.iter().map(|c| check(knowledge, c)).collect::<Vec<_>>(),
        "fixes": knowledge.fixes.iter().map(|x| fix(knowledge, x)).collect::<Vec<_>>(),
        "cautions": knowledge.cautions.iter().map(|c| json!({
            "id": c.id, "level": c.level, "text": c.text, "when": conditions(&c.when),
        })).collect::<Vec<_>>(),
        "materials": knowledge.materials.iter().map(|m| json!({
            "id": m.id, "nozzle_c": m.nozzle_c, "bed_c": m.bed_c, "chamber_c": m.chamber_c,
                "fan_percent": m.fan_percent,
            "closed": m.closed, "drying": m.drying,
        })).collect::<Vec<_>>(),
        "glossary": knowledge.glossary.iter().map(|t| json!({
            "id": t.id, "term": t.term, "plain": t.plain, "text": t.text, "see": t.see,
        })).collect::<Vec<_>>(),
        "synonyms": knowledge.synonyms,
        "schools": knowledge.schools.iter().map(|s| school(knowledge, s)).collect::<Vec<_>>(),
        "stops": knowledge.stops.iter().map(|s| json!({
            "id": s.id, "title": s.name, "why": s.why,
                "check": s.check.map(|c| knowledge.check_name(c)),
            "holds": s.holds.iter().map(|all| terms(knowledge, all)).collect::<Vec<_>>(),
                "until": terms(knowledge, &s.until),
            "work": work(knowledge, &s.work),
        })).collect::<Vec<_>>(),
    })
}

fn school(knowledge: &Knowledge, school: &School) -> Value {
    let side = |s: &Side| {
        let fixes = s.fixes.iter().map(|x| knowledge.fix(*x).id.as_str());
        let checks = s.checks.iter().map(|c| knowledge.check_name(*c));
        json!({
            "id": s.id, "name": s.name, "when": s.when, "costs": s.costs, "risks": s.risks,
            "fixes": fixes.collect::<Vec<_>>(), "checks": checks.collect::<Vec<_>>(),
        })
    };
    json!({
        "id": school.id, "title": school.title, "why": school.why,
        "sides": school.sides.iter().map(side).collect::<Vec<_>>(),
    })
}

fn conditions(conditions: &[Condition]) -> Vec<String> {
    conditions.iter().map(Condition::to_string).collect()
}

fn cause(knowledge: &Knowledge, id: crate::knowledge::CauseId) -> Value {
    let cause = knowledge.cause(id);
    let links: serde_json::Map<String, Value> = (0..knowledge.findings.len() as u16)
        .map(FindingId)
        .filter(|f| knowledge.table.linked(id, *f))
        .map(|f| {
            (
                knowledge.finding(f).id.clone(),
                states(knowledge, f, knowledge.table.states(id, f)),
            )
        })
        .collect();
    json!({
        "id": cause.id, "name": cause.name, "plain": cause.plain, "family": cause.family,
            "mechanism": cause.mechanism,
        "clears": cause.clears, "weight": cause.weight, "exclusive": cause.exclusive,
        "context": cause.factors.iter().map(|(c, factor)| json!({ "when": c.to_string(),
            "factor": factor })).collect::<Vec<_>>(),
        "consequence_of": cause.consequence_of.iter().map(|(root, chance)| {
            json!({ "cause": knowledge.cause(*root).id, "chance": chance })
        }).collect::<Vec<_>>(),
        "fixes": cause.fixes.iter().map(|x| json!({ "fix": knowledge.fix(*x).id,
            "chance": knowledge.cure(*x, id) })).collect::<Vec<_>>(),
        "links": links,
    })
}

/// Chances by state.
fn states(knowledge: &Knowledge, f: FindingId, values: &[f64]) -> Value {
    knowledge
        .finding(f)
        .states
        .iter()
        .zip(values)
        .map(|(s, p)| (s.id.clone(), json!(p)))
        .collect::<serde_json::Map<_, _>>()
        .into()
}

fn finding(knowledge: &Knowledge, id: FindingId) -> Value {
    let f = knowledge.finding(id);
    let section = match f.section {
        Section::Print => "print",
        Section::Machine => "machine",
        Section::History => "history",
        Section::Number => "number",
        Section::Check => "check",
    };
    json!({
        "id": f.id, "section": section, "region": f.region.map_or("", |r| r.id()),
            "question": f.question, "plain": f.plain, "term": f.term, "group": f.group,
        "needs": conditions(&f.needs), "unlisted": states(knowledge, id,
            knowledge.table.unlisted(id)),
        "states": f.states.iter().map(|s| json!({ "id": s.id, "phrase": s.phrase,
            "background": s.background })).collect::<Vec<_>>(),
        "one_of": f.one_of.iter().map(|(id, members)| json!({
            "id": id, "states": members.iter().map(|m| f.states[*m].id.clone()).collect::<Vec<_>>(),
        })).collect::<Vec<_>>(),
    })
}

fn work(knowledge: &Knowledge, work: &Work) -> Value {
    json!({
        "name": work.name, "steps": work.steps.iter().map(|s| &s.text).collect::<Vec<_>>(),
            "tools": work.tools, "minutes": work.minutes, "waiting": work.waiting,
            "grams": work.grams,
        "money": work.money, "dismantling": work.dismantling, "risk": work.risk,
            "state": work.stands, "prints": work.prints,
        "raises_nozzle_c": work.raises_nozzle_c,
        "trade": work.trade.map_or("", Trade::id),
        "cautions": work.cautions.iter()
            .map(|c| knowledge.cautions[*c].id.clone()).collect::<Vec<_>>(),
    })
}

fn check(knowledge: &Knowledge, check: &crate::knowledge::Check) -> Value {
    let finding = knowledge.finding(check.finding);
    json!({
        "id": finding.id, "work": work(knowledge, &check.work),
            "also_fix": finding.also_fix.map(|x| knowledge.fix(x).id.clone()),
        "supersedes": check.supersedes.iter()
            .map(|f| knowledge.finding(*f).id.clone()).collect::<Vec<_>>(),
        "ends_case": check.ends_case.iter()
            .map(|s| finding.states[*s].id.clone()).collect::<Vec<_>>(),
    })
}

fn fix(knowledge: &Knowledge, fix: &crate::knowledge::Fix) -> Value {
    json!({
        "id": fix.id, "kind": fix.kind, "work": work(knowledge, &fix.work), "verify": fix.verify,
            "verify_minutes": fix.verify_minutes,
        "verify_waiting": fix.verify_waiting, "verify_grams": fix.verify_grams,
            "warranty": fix.warranty,
            "verify_prints": fix.verify_prints, "by_chance": fix.by_chance,
        "may_bring": fix.may_bring.iter()
            .map(|f| knowledge.finding(*f).id.clone()).collect::<Vec<_>>(),
        "needs": conditions(&fix.needs),
    })
}

fn terms(knowledge: &Knowledge, terms: &[StopTerm]) -> Vec<String> {
    let said = |term: &StopTerm| match term {
        StopTerm::Finding(f, s) => format!(
            "{}={}",
            knowledge.finding(*f).id,
            knowledge.finding(*f).states[*s].id
        ),
        StopTerm::Context(condition) => condition.to_string(),
        StopTerm::AtLeast(number, None, value) => format!("{number}>={value}"),
        StopTerm::AtLeast(number, Some(limit), value) => format!("{number}>={limit}|{value}"),
    };
    terms.iter().map(said).collect()
}
