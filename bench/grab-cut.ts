import { execFileSync } from 'node:child_process';
import { makeMask, type Mask, type Picture } from '@lithe-sieve/core/testing';

const SCRIPT = `
import sys, numpy, cv2
w, h = int(sys.argv[1]), int(sys.argv[2])
rgb = numpy.frombuffer(sys.stdin.buffer.read(), numpy.uint8).reshape(h, w, 4)[..., :3][..., ::-1].copy()
mask = numpy.zeros((h, w), numpy.uint8)
cv2.setRNGSeed(1)
cv2.grabCut(rgb, mask, (w // 50, h // 50, w - w // 25, h - h // 25), numpy.zeros((1, 65)), numpy.zeros((1, 65)), 5, cv2.GC_INIT_WITH_RECT)
sys.stdout.buffer.write((((mask == 1) | (mask == 3)) * 255).astype(numpy.uint8).tobytes())`;

/**
 * OpenCV's GrabCut from a box around the whole picture, five rounds: the usual general-purpose segmentation. Null where the
 * Python that `PYTHON` names, else Debian's, has no OpenCV.
 */
export function grabCut({ width, height, data }: Picture): Mask | null {
  const python = process.env['PYTHON'] ?? '/usr/bin/python3';
  try {
    const args = ['-c', SCRIPT, String(width), String(height)];
    const out = execFileSync(python, args, { input: data, maxBuffer: 1 << 28, stdio: ['pipe', 'pipe', 'ignore'] });
    return makeMask(width, height, new Uint8Array(out));
  } catch {
    return null;
  }
}
