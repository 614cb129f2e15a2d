// Grain drawn by seeded noise along the slab, so that a piece always looks the
// same and no two look alike.

/** random gives repeatable numbers from 0 to 1 (mulberry32). */
export function random(seed: number): () => number {
  let a = seed >>> 0;
  return () => {
    a = (a + 0x6d2b79f5) >>> 0;
    let t = a;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** seedOf turns words into a seed. */
export function seedOf(text: string): number {
  let h = 2166136261;
  for (const c of text) h = Math.imul(h ^ c.charCodeAt(0), 16777619);
  return h;
}

export interface GrainLine {
  d: string;
  width: number;
  strength: number;
}

/** grain draws lines along x between two ends and two heights, mm. */
export function grain(seed: number, from: number, to: number, minY: number, maxY: number): GrainLine[] {
  const next = random(seed);
  const length = to - from;
  const lines: GrainLine[] = [];
  const waves = [0, 1, 2].map(() => ({ k: (0.6 + next() * 1.8) / length, phase: next() * 6.28, size: 2 + next() * 5 }));
  const drift = (next() - 0.5) * 0.04;
  for (let y = minY - 10; y < maxY + 10; y += 1.6 + next() * 5.2) {
    const own = next() * 6.28;
    const points: string[] = [];
    for (let i = 0; i <= 24; i++) {
      const x = (length * i) / 24;
      let dy = drift * (x - length / 2) + Math.sin(own + x * 0.011) * 0.9;
      for (const w of waves) dy += Math.sin(w.phase + 6.28 * w.k * x + y * 0.012) * w.size;
      points.push(`${(from + x).toFixed(1)} ${(y + dy).toFixed(1)}`);
    }
    lines.push({ d: `M${points.join("L")}`, width: 0.5 + next() * 1.5, strength: 0.12 + next() * 0.34 });
  }
  return lines;
}
