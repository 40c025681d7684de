// One request at a time, in the order of the touches: a later answer never overtakes an earlier
// one.

let line = Promise.resolve();
let waiting = 0;
const idle = [];

/** Does a job when those before it are done; what it throws ends it alone. */
export function inTurn(job) {
  waiting += 1;
  line = line
    .then(job)
    .catch(() => {})
    .finally(() => {
      waiting -= 1;
      for (const then of idle) then();
    });
  return line;
}

/** Whether a job is under way or waits for its turn. */
export const busy = () => waiting > 0;

/** Calls `then` after each job. */
export function afterEach(then) {
  idle.push(then);
}
