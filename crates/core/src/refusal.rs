//! Why something cannot be recorded, as data: which field, which value, what would do. A page words
//! it for the person in front of it; the texts here are for the command line and for logs.

use crate::evidence::NoState;
use crate::knowledge::FixId;
use crate::lock::{Holder, Lock};
use crate::measures::ReadingProblem;
use crate::nearest::{did_you_mean, nearest, short};
use crate::profile::ContextProblem;
use crate::settings::NumberProblem;
use crate::text::TextProblem;
use crate::work_id::NoWork;

/// Why an event was refused.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Refusal {
    /// A value makes no sense.
    #[error("{}", of_field(field, problem))]
    Invalid {
        /// The part of the event: `title`, `minutes`, a finding's identifier.
        field: String,
        /// What is wrong with it.
        problem: Problem,
    },
    /// The case or the machine is not in a state for it.
    #[error(transparent)]
    NotNow(#[from] NotNow),
    /// A stop of the case, or of the machine's build, stands against it.
    #[error("{}: {stop}", match why {
        Stopped::Held => "the machine is locked, clear the stop before anything else",
        Stopped::WouldLift => "this would lift a stop, which a named person does, with the reason",
        Stopped::WouldEnd => "this would end a stop, which a named person does, with the reason",
    })]
    Stopped {
        /// The stop's identifier.
        stop: String,
        /// In which way.
        why: Stopped,
    },
    /// Something else locks the machine.
    #[error("the machine is locked {}, nothing is done on it until that stop is \
        lifted", match lock.holder {
        Holder::Case { .. } => "by another case",
        Holder::Build => "because of how it is built",
    })]
    Locked {
        /// What holds it.
        lock: Lock,
    },
}

/// In which way a stop stands against something.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Stopped {
    /// It holds: nothing heats or moves.
    Held,
    /// What was asked would lift it by the way.
    WouldLift,
    /// The change of the build would end it by the way.
    WouldEnd,
}

/// What is wrong with a value.
#[derive(Debug, Clone, PartialEq, thiserror::Error)]
pub enum Problem {
    /// A text.
    #[error(transparent)]
    Text(#[from] TextProblem),
    /// A number.
    #[error(transparent)]
    Number(#[from] NumberProblem),
    /// Somebody else took it, named as entries name them.
    #[error("{0} took this already: they can hand it over")]
    Taken(String),
    /// An evening that is over.
    #[error("this shift is over: begin a new one")]
    ShiftOver,
    /// An evening with nobody, or a crowd.
    #[error("say who is there: one person at least, {0} at most")]
    Nobody(usize),
    /// What was read at a check.
    #[error(transparent)]
    Reading(#[from] ReadingProblem),
    /// A field of machine or material.
    #[error(transparent)]
    Context(#[from] ContextProblem),
    /// An answer.
    #[error(transparent)]
    Answer(#[from] NoState),
    /// A piece of work.
    #[error(transparent)]
    Work(#[from] NoWork),
    /// An identifier nobody knows.
    #[error("`{given}` is no known \
        {what}{}", near.as_deref().map(did_you_mean).unwrap_or_default())]
    Unknown {
        /// Of what: `cause`, `fix`.
        what: &'static str,
        /// What was given, cut short.
        given: String,
        /// The most alike.
        near: Option<String>,
    },
    /// Minutes, grams or money outside of all sense.
    #[error("must be a number between 0 and {most}, but {given} was given")]
    Amount {
        /// What was given.
        given: f64,
        /// The most that makes sense.
        most: f64,
    },
    /// Something that is told as it happens.
    #[error("this is told as it happens: leave the day out")]
    NoOtherDay,
    /// A day that has not been yet, or long before there were such machines.
    #[error("{given} is no day between {first} and {last}")]
    Day {
        /// What was given.
        given: time::Date,
        /// The first that makes sense.
        first: time::Date,
        /// The last one.
        last: time::Date,
    },
    /// A count of prints that cannot be.
    #[error(
        "{prints} of {of} prints cannot be: a fault shows in one print at least, in no more \
        than there were, and at most {most} are counted"
    )]
    Strikes {
        /// Prints that showed it.
        prints: u32,
        /// Of so many.
        of: u32,
        /// The most that are counted.
        most: u32,
    },
    /// A wait of no or of endless length, in minutes.
    #[error("a wait lasts up to {most} minutes, but {given} was given")]
    Wait {
        /// What was given.
        given: f64,
        /// The longest there is.
        most: f64,
    },
    /// The case holds as many of them as it can.
    #[error("this case holds {most} {} already", holding.words())]
    Full {
        /// Of what.
        holding: Holding,
        /// How many fit.
        most: usize,
    },
    /// A suggestion that suggests nothing.
    #[error("a suggestion names a suspect, a check, or says something")]
    SuggestsNothing,
    /// An entry that is no suggestion.
    #[error("entry {0} is no suggestion")]
    NoSuggestion(u32),
    /// A part that does not come off in that work.
    #[error("`{0}` is no part that comes off there")]
    NoSuchPart(String),
    /// Only a check or a fix can be set aside.
    #[error("only a check or a fix can be set aside")]
    CannotBeSetAside,
    /// An entry that changed no value that was noted.
    #[error("entry {0} changed no value that was noted")]
    ChangedNothing(u32),
    /// An entry that is not there, or the one that opened the case.
    #[error("there is no entry {0} that can be taken back")]
    NoSuchEntry(u32),
    /// A step that the work does not have.
    #[error("step {step} is none: it has steps 1 to {steps}")]
    NoSuchStep {
        /// What was given.
        step: u32,
        /// How many there are.
        steps: u32,
    },
    /// A step of a stop that was not ticked.
    #[error("step {step} of {steps} has no tick: do the steps in turn and tick each")]
    NotTicked {
        /// Which, from 1.
        step: u32,
        /// How many there are.
        steps: usize,
    },
    /// "Fixed and verified" without a print that proved it.
    #[error(
        "no print has proved it yet: print and compare first, or close it as believed fixed, not \
         proved"
    )]
    NotProved,
    /// "Improved" without prints that show it.
    #[error(
        "nothing shows yet that it is better: tell of two prints a step better than the one kept, \
         or of enough prints to say that it strikes less often"
    )]
    NotImproved,
    /// A fixed case without its cause.
    #[error("say which cause it was: the workshop learns from it")]
    CauseMissing,
    /// Marks on a picture that is not of this case.
    #[error("this case holds no such picture")]
    NoSuchPicture,
    /// More marks than can be told apart.
    #[error("{many} marks are too many: at most {most} fit on a picture")]
    TooManyMarks {
        /// How many were given.
        many: usize,
        /// How many fit.
        most: usize,
    },
    /// A mark beside the picture.
    #[error("a mark lies outside the picture")]
    MarkOutside,
    /// A finding that only its check answers.
    #[error("`{0}` is what a check finds: do the check, and answer on its own page")]
    FoundByCheck(String),
    /// A finding that the program draws from numbers.
    #[error("`{0}` is drawn from the numbers: give the numbers instead")]
    DrawnFromNumbers(String),
    /// A part that this machine does not have.
    #[error("`{0}` is no part of this machine")]
    NoPartOfMachine(String),
    /// The counter of printing hours outside of all sense.
    #[error("the counter must show between 0 and {most} hours, but {given} was given")]
    Counter {
        /// What was given.
        given: f64,
        /// The most a counter shows.
        most: f64,
    },
    /// A counter that would run backwards.
    #[error("the counter showed {before} hours before: it does not run backwards to {given}")]
    CounterBackwards {
        /// What it showed.
        before: f64,
        /// What was given.
        given: f64,
    },
    /// A change that leaves the value as it was.
    #[error("is the same as before: nothing changed")]
    SameAsBefore,
    /// A spool that weighs less than an empty one.
    #[error("is less than the empty spool weighs, which is {0} g")]
    LighterThanEmpty(f64),
    /// More pieces than there are.
    #[error("only {0} are there: count them first")]
    NotSoMany(u32),
    /// A name that stands on the floor already.
    #[error("{0} stands on the floor already: choose another name")]
    NameTaken(String),
    /// More entries than one form may cause.
    #[error("{many} entries at once are too many: at most {most}")]
    TooManyAtOnce {
        /// How many were given.
        many: usize,
        /// How many go.
        most: usize,
    },
    /// A machine that is not on the floor.
    #[error("there is no such machine on the floor")]
    NoSuchMachine,
}

/// What a case holds only so many of.
#[derive(Debug, Clone, Copy, PartialEq, Eq)]
pub enum Holding {
    /// Pictures.
    Pictures,
    /// Print files.
    Files,
    /// Tellings in people's own words.
    Tellings,
    /// Tries of fixes.
    Tries,
    /// Suggestions nobody answered yet.
    OpenSuggestions,
    /// Checks and fixes in the workshop's own words.
    OwnWords,
    /// Outcomes of one check in the workshop's own words.
    OwnOutcomes,
}

impl Holding {
    fn words(self) -> &'static str {
        match self {
            Holding::Pictures => "pictures",
            Holding::Files => "print files",
            Holding::Tellings => "tellings",
            Holding::Tries => "tries",
            Holding::OpenSuggestions => "suggestions that wait for an answer",
            Holding::OwnWords => "checks and fixes in your own words",
            Holding::OwnOutcomes => "outcomes of one check",
        }
    }
}

/// Why the state of case or machine does not allow it.
#[derive(Debug, Clone, PartialEq, Eq, thiserror::Error)]
pub enum NotNow {
    /// Something else than the opening comes first, or a second opening.
    #[error("a case is opened once, before anything else happens in it")]
    OpenedOnce,
    /// The case is closed.
    #[error("this case is closed: reopen it first")]
    Closed,
    /// It is open already.
    #[error("this case is open")]
    IsOpen,
    /// The suggestion has its answer.
    #[error("this suggestion was answered before")]
    SuggestionAnswered,
    /// The part is noted as back.
    #[error("{0}: noted as back in its place before")]
    PartIsBack(String),
    /// A part is off while something is to print.
    #[error(
        "{0}: noted as taken off and not as back. Put it back and tick it before anything prints"
    )]
    PartIsOff(String),
    /// The step is not set aside.
    #[error("this step is not set aside")]
    NotSetAside,
    /// The value was put back.
    #[error("this value was put back before")]
    PutBackBefore,
    /// A fix waits for its proof: one change at a time.
    #[error("one change at a time: print and judge the last fix first")]
    ProofFirst(FixId),
    /// No fix waits for its proof.
    #[error("no fix is waiting for its proof")]
    NothingToProve,
    /// The entry was taken back.
    #[error("entry {0} was taken back before")]
    TakenBackBefore(u32),
    /// The stop was lifted.
    #[error("this stop does not hold any more")]
    StopIsLifted,
    /// The part was noted as new at the same hours.
    #[error("this part was noted as fitted new at the same hours before")]
    FittedAlready,
    /// A spool of which nothing is left.
    #[error("nothing is left of this spool: say first how much was found")]
    SpoolFinished,
    /// A spool that is in use.
    #[error("this spool is in use")]
    SpoolInUse,
    /// A spool whose empty weight nobody knows.
    #[error("nobody knows what the empty spool weighs: write that down first")]
    NoTare,
    /// The machine is out of service.
    #[error("it is out of service already")]
    OutOfService,
    /// The machine is in service.
    #[error("it is in service already")]
    InService,
    /// Links for helpers are all taken.
    #[error("{0} links are open already: revoke one first")]
    LinksTaken(usize),
}

impl Refusal {
    /// A value of a field that makes no sense.
    pub fn invalid(field: &str, problem: impl Into<Problem>) -> Self {
        Refusal::Invalid {
            field: field.to_string(),
            problem: problem.into(),
        }
    }
}

impl Problem {
    /// An identifier nobody knows, with the most alike of those that are known.
    pub fn unknown<'a>(
        what: &'static str,
        given: &str,
        known: impl IntoIterator<Item = &'a str>,
    ) -> Self {
        Problem::Unknown {
            what,
            given: short(given),
            near: nearest(given, known).map(str::to_string),
        }
    }
}

/// Problems that do not name what they are about follow the name of their field.
fn of_field(field: &str, problem: &Problem) -> String {
    match problem {
        Problem::Text(_) | Problem::Amount { .. } => format!("{field} {problem}"),
        other => other.to_string(),
    }
}
