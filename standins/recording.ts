/** How many samples a second the stand-in's recordings have. */
const RATE = 8_000;

/** A recording as a WAV file (PCM, 8 bit, mono): a beep, then something like a voice for `seconds`. */
export function recording(seconds: number): Buffer {
  const length = Math.round(Math.min(120, Math.max(1, seconds)) * RATE);
  const data = Buffer.alloc(length);
  for (let i = 0; i < length; i++) {
    const t = i / RATE;
    const beep = t < 0.4;
    const syllable = Math.max(0, Math.sin(t * 11)) * (0.5 + 0.5 * Math.sin(t * 1.3));
    const pitch = beep ? 1_000 : 140 + 30 * Math.sin(t * 5);
    const wave = Math.sin(2 * Math.PI * pitch * t) + (beep ? 0 : 0.5 * Math.sin(4 * Math.PI * pitch * t));
    data[i] = 128 + Math.round(50 * wave * (beep ? 0.6 : syllable));
  }
  const head = Buffer.alloc(44);
  head.write("RIFF", 0);
  head.writeUInt32LE(36 + length, 4);
  head.write("WAVEfmt ", 8);
  head.writeUInt32LE(16, 16);
  head.writeUInt16LE(1, 20);
  head.writeUInt16LE(1, 22);
  head.writeUInt32LE(RATE, 24);
  head.writeUInt32LE(RATE, 28);
  head.writeUInt16LE(1, 32);
  head.writeUInt16LE(8, 34);
  head.write("data", 36);
  head.writeUInt32LE(length, 40);
  return Buffer.concat([head, data]);
}
