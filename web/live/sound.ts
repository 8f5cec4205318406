/** Two short synthesised tones: one when an inquiry arrives, one when a lead rings. Off until allowed. */

const KEY = "kb_sound";
let context: AudioContext | null = null;

export const soundOn = () => localStorage.getItem(KEY) === "on";

export function setSound(on: boolean): void {
  localStorage.setItem(KEY, on ? "on" : "off");
  if (on) play("arrival");
}

/** Two soft partials each; rising for an arrival, low and twice for a ring. */
const TONES = {
  arrival: [[660, 990, 0]],
  ring: [
    [440, 587, 0],
    [440, 587, 0.35],
  ],
} as const;

export function play(tone: keyof typeof TONES): void {
  if (!soundOn()) return;
  context ??= new AudioContext();
  for (const [low, high, after] of TONES[tone]) {
    for (const [frequency, loud] of [
      [low, 0.12],
      [high, 0.05],
    ] as const) {
      const start = context.currentTime + after;
      const oscillator = new OscillatorNode(context, { frequency });
      const gain = new GainNode(context, { gain: 0 });
      gain.gain.setValueAtTime(0, start);
      gain.gain.linearRampToValueAtTime(loud, start + 0.02);
      gain.gain.exponentialRampToValueAtTime(0.0001, start + 0.6);
      oscillator.connect(gain).connect(context.destination);
      oscillator.start(start);
      oscillator.stop(start + 0.65);
    }
  }
}
