/** Pieces across and along. */
const [ACROSS, ALONG] = [8, 14];

/**
 * A leaf as somebody might have modelled it, an OBJ in centimetres with z up: an oval with its tip, bent over its length,
 * its sides raised along the midrib. UVs lie on the picture as it is seen from the front.
 */
export function leafMeshObj(): string {
  const lines = ['# a leaf of the boardwalk', 'o Leaf', 'usemtl leaf'];
  for (let j = 0; j <= ALONG; j++) {
    for (let i = 0; i <= ACROSS; i++) {
      const [u, v] = [i / ACROSS, j / ALONG];
      const [side, bend] = [2 * u - 1, v * v * 1.1];
      const out = 2.2 * Math.abs(side) * Math.sin(Math.PI * Math.min(1, v + 0.15));
      const [x, forward, up] = [
        6 * side,
        12 * (1 - Math.cos(bend)) * 0.55 + out * Math.cos(bend),
        12 * v - 2 * bend * v,
      ];
      lines.push(`v ${x.toFixed(4)} ${(-forward).toFixed(4)} ${up.toFixed(4)}`, `vt ${u.toFixed(4)} ${v.toFixed(4)}`);
    }
  }
  for (let j = 0; j < ALONG; j++) {
    for (let i = 0; i < ACROSS; i++) {
      const a = j * (ACROSS + 1) + i + 1;
      const corners = [a, a + 1, a + ACROSS + 2, a + ACROSS + 1];
      lines.push(`f ${corners.map((c) => `${c}/${c}`).join(' ')}`);
    }
  }
  return `${lines.join('\n')}\n`;
}
