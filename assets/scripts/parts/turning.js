// A test piece that turns: its triangles drawn from the back to the front on a canvas, lit from
// above. Colours are those of the style sheet.

const EDGE = 0.9;

/** The triangles of a binary STL: nine numbers each. */
export function triangles(buffer) {
  const view = new DataView(buffer);
  const count = view.getUint32(80, true);
  const corners = new Float32Array(count * 9);
  for (let t = 0; t < count; t++) {
    for (let n = 0; n < 9; n++)
      corners[t * 9 + n] = view.getFloat32(84 + t * 50 + 12 + n * 4, true);
  }
  return corners;
}

/** The middle and the half diagonal of all corners. */
export function frame(corners) {
  const least = [Infinity, Infinity, Infinity];
  const most = [-Infinity, -Infinity, -Infinity];
  for (let n = 0; n < corners.length; n++) {
    const axis = n % 3;
    least[axis] = Math.min(least[axis], corners[n]);
    most[axis] = Math.max(most[axis], corners[n]);
  }
  const middle = least.map((low, axis) => (low + most[axis]) / 2);
  return { middle, reach: Math.hypot(...least.map((low, axis) => most[axis] - low)) / 2 };
}

/** Where a corner is seen from an angle round and an angle up: across, up, towards the eye. */
export function seen([x, y, z], round, up) {
  const across = x * Math.cos(round) - y * Math.sin(round);
  const away = x * Math.sin(round) + y * Math.cos(round);
  return [across, z * Math.cos(up) + away * Math.sin(up), z * Math.sin(up) - away * Math.cos(up)];
}

class Turning {
  constructor(place, corners) {
    this.place = place;
    this.corners = corners;
    this.frame = frame(corners);
    this.round = 0.6;
    this.up = 0.55;
    this.board = document.createElement("canvas");
    this.board.tabIndex = 0;
    this.board.setAttribute("role", "img");
    this.board.setAttribute("aria-label", "The piece: drag it, or turn it with the arrow keys");
    place.replaceChildren(this.board);
    this.brush = this.board.getContext("2d");
    this.board.addEventListener("pointerdown", (e) => this.board.setPointerCapture(e.pointerId));
    this.board.addEventListener("pointermove", (e) => {
      if (e.buttons) this.turn(e.movementX / 120, e.movementY / 120);
    });
    const keys = { ArrowLeft: [-0.15, 0], ArrowRight: [0.15, 0], ArrowUp: [0, -0.15] };
    keys.ArrowDown = [0, 0.15];
    this.board.addEventListener("keydown", (e) => {
      if (!keys[e.key]) return;
      e.preventDefault();
      this.turn(...keys[e.key]);
    });
    new ResizeObserver(() => this.draw()).observe(place);
    this.draw();
  }

  turn(round, up) {
    this.round += round;
    this.up = Math.max(-1.4, Math.min(1.5, this.up + up));
    this.draw();
  }

  draw() {
    const { board, brush, corners } = this;
    const ratio = window.devicePixelRatio || 1;
    const [wide, tall] = [this.place.clientWidth, 300];
    board.width = wide * ratio;
    board.height = tall * ratio;
    board.style.width = `${wide}px`;
    board.style.height = `${tall}px`;
    const scale = (Math.min(wide, tall) * ratio * EDGE) / (2 * this.frame.reach);
    const style = getComputedStyle(this.place);
    const [ink, paper] = [style.getPropertyValue("--ink"), style.getPropertyValue("--card")];
    const faces = this.faces();
    brush.setTransform(scale, 0, 0, -scale, board.width / 2, board.height / 2);
    for (const { points, light } of faces) {
      brush.beginPath();
      points.forEach(([x, y], n) => (n ? brush.lineTo(x, y) : brush.moveTo(x, y)));
      brush.closePath();
      brush.fillStyle = `color-mix(in srgb, ${ink} ${Math.round(70 - 55 * light)}%, ${paper})`;
      brush.strokeStyle = brush.fillStyle;
      brush.lineWidth = 0.6 / scale;
      brush.fill();
      brush.stroke();
    }
    this.place.dataset.drawn = String(corners.length / 9);
  }

  /** Faces that look at the eye, the farthest first. */
  faces() {
    const faces = [];
    const { middle } = this.frame;
    for (let t = 0; t < this.corners.length; t += 9) {
      const points = [0, 3, 6].map((n) =>
        seen(
          middle.map((m, axis) => this.corners[t + n + axis] - m),
          this.round,
          this.up,
        ),
      );
      const [a, b, c] = points;
      const [u, v] = [b.map((p, n) => p - a[n]), c.map((p, n) => p - a[n])];
      const out = u[0] * v[1] - u[1] * v[0];
      if (out <= 0) continue;
      const up = u[2] * v[0] - u[0] * v[2];
      const length = Math.hypot(u[1] * v[2] - u[2] * v[1], up, out);
      const light = (0.55 * out + 0.45 * Math.max(0, up)) / length;
      faces.push({ points, light, near: a[2] + b[2] + c[2] });
    }
    return faces.sort((one, other) => one.near - other.near);
  }
}

/** The part of a page: a place with the address of the piece. */
export function part() {
  return {
    async init() {
      const answer = await fetch(this.$root.dataset.href);
      if (answer.ok) new Turning(this.$root, triangles(await answer.arrayBuffer()));
    },
  };
}
