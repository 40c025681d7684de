//! Repair a machine or keep it for parts: the sum, and where it tips.

/// Hours it takes to bring a replacement into service.
pub const SETTING_UP_HOURS: f64 = 3.0;

/// What is known of a repair and of what would stand in its place. Money in the shop's currency.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Repair {
    /// Price of the parts.
    pub parts: f64,
    /// Hours of work.
    pub hours: f64,
    /// Worth of an hour.
    pub wage: f64,
    /// Chance that it has to be done once more, 0 to 1.
    pub risk: f64,
    /// Of the hours, those that somebody would give to learn it.
    pub learning: f64,
    /// Price of a machine in its place.
    pub price: f64,
    /// Worth of the parts that can be used again.
    pub reuse: f64,
}

/// Both ways as money.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct RepairOrRetire {
    /// What the repair costs, all told.
    pub repair: f64,
    /// What a replacement costs, all told.
    pub replace: f64,
    /// Hours of work at which both cost the same; none where an hour is worth nothing. Below
    /// nothing the parts alone cost more than a replacement.
    pub tips_at_hours: Option<f64>,
}

impl RepairOrRetire {
    /// The repair costs less.
    pub fn repairs(&self) -> bool {
        self.repair < self.replace
    }
}

/// The sum.
///
/// # Formula
/// repair = (parts + (hours − learning)·wage)·(1 + risk);
/// replace = price − reuse + 3 h·wage; both are the same at
/// hours = (replace/(1 + risk) − parts)/wage + learning
pub fn repair_or_retire(of: Repair) -> RepairOrRetire {
    let risk = of.risk.clamp(0.0, 1.0);
    let learning = of.learning.clamp(0.0, of.hours.max(0.0));
    let repair = (of.parts + (of.hours - learning) * of.wage) * (1.0 + risk);
    let replace = of.price - of.reuse + SETTING_UP_HOURS * of.wage;
    let tips = (replace / (1.0 + risk) - of.parts) / of.wage + learning;
    RepairOrRetire {
        repair,
        replace,
        tips_at_hours: (of.wage > 0.0).then_some(tips),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const BOARD: Repair = Repair {
        parts: 45.0,
        hours: 4.0,
        wage: 20.0,
        risk: 0.2,
        learning: 1.0,
        price: 190.0,
        reuse: 40.0,
    };

    #[test]
    fn the_sum_is_that_of_the_formula_and_tips_where_both_are_alike() {
        let sum = repair_or_retire(BOARD);
        // (45 + 3·20)·1.2 = 126; 190 − 40 + 60 = 210; (210/1.2 − 45)/20 + 1 = 7.5
        assert!((sum.repair - 126.0).abs() < 1e-9 && (sum.replace - 210.0).abs() < 1e-9);
        assert!((sum.tips_at_hours.unwrap() - 7.5).abs() < 1e-9 && sum.repairs());
        let at = Repair {
            hours: sum.tips_at_hours.unwrap(),
            ..BOARD
        };
        let there = repair_or_retire(at);
        assert!((there.repair - there.replace).abs() < 1e-9);
    }

    #[test]
    fn without_a_wage_the_parts_alone_decide() {
        let free = Repair { wage: 0.0, ..BOARD };
        let sum = repair_or_retire(free);
        assert_eq!((sum.tips_at_hours, sum.repairs()), (None, true));
        assert!(
            !repair_or_retire(Repair {
                parts: 200.0,
                ..free
            })
            .repairs()
        );
    }
}
