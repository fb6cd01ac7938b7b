import { XMLParser } from 'fast-xml-parser';
import { SieveError } from '../errors.ts';
import type { SceneSays } from './says.ts';

interface Input {
  name: string;
  value?: string;
  nodename?: string;
  nodegraph?: string;
  output?: string;
}
interface Node {
  kind: string;
  name: string;
  inputs: Map<string, Input>;
}

const wrong = (why: string) => new SieveError('corrupt', `It is no MaterialX that this reader takes: ${why}.`);
const MODES = ['opaque', 'mask', 'blend'] as const;
/** Longer than any way from a picture to an input: a graph that goes round would never end. */
const LONGEST = 16;
type Plain = Record<string, unknown>;

/** What the first material of a document says. @throws SieveError `corrupt`. */
export function readMtlx(text: string): SceneSays {
  const root = parsed(text);
  const [nodes, graphs] = [nodesOf(root), new Map(listOf(root.nodegraph).map((g) => [String(g.name), graphOf(g)]))];
  const material = [...nodes.values()].find((n) => n.kind === 'surfacematerial');
  const shader = nodes.get(material?.inputs.get('surfaceshader')?.nodename ?? '');
  if (!shader) throw wrong('it has no material with a shader');
  const graph = [...shader.inputs.values()].map((i) => graphs.get(i.nodegraph ?? '')).find((g) => g);
  const from = (input: string) => {
    const { output } = shader.inputs.get(input) ?? {};
    return output === undefined ? null : (graph?.outputs.get(output) ?? null);
  };
  const inGraph = (name: string) => graph?.nodes.get(name);
  const files = [...graphs.values()].flatMap((g) =>
    [...g.nodes.values()].map((n) => n.inputs.get('file')?.value ?? ''),
  );
  const colour = fileBehind(from('base_color'), inGraph);
  if (shader.kind === 'gltf_pbr') {
    const alpha = alphaBehind(from('alpha'), inGraph);
    return {
      mode: MODES[Number(shader.inputs.get('alpha_mode')?.value ?? 0)] ?? 'opaque',
      cutoff: Number(shader.inputs.get('alpha_cutoff')?.value ?? 0.5), // the default of gltf_pbr
      opacity: alpha?.factor ?? 1,
      doubleSided: null,
      colour,
      alpha: alpha && { file: alpha.file, channel: 'alpha' },
      files: files.filter((f) => f !== ''),
    };
  }
  if (shader.kind !== 'standard_surface') throw wrong(`nothing here reads ${shader.kind}`);
  const alpha = alphaBehind(from('opacity'), inGraph);
  return {
    mode: !alpha ? 'opaque' : alpha.cutoff === null ? 'blend' : 'mask',
    cutoff: alpha?.cutoff ?? 0,
    opacity: alpha?.factor ?? 1,
    doubleSided: null,
    colour,
    alpha: alpha && { file: alpha.file, channel: 'alpha' },
    files: files.filter((f) => f !== ''),
  };
}

/** The picture that a node comes from. */
function fileBehind(start: string | null, nodeOf: (name: string) => Node | undefined): string | null {
  let at = start;
  for (let n = 0; at !== null && n < LONGEST; n++) {
    const node = nodeOf(at);
    const file = node?.inputs.get('file')?.value;
    if (file !== undefined) return file;
    at = (node?.inputs.get('in') ?? node?.inputs.get('in1'))?.nodename ?? null;
  }
  return null;
}

/** The same of opacity, with what it is multiplied by and compared with on the way. */
function alphaBehind(
  start: string | null,
  nodeOf: (name: string) => Node | undefined,
): { file: string; factor: number; cutoff: number | null } | null {
  let [at, factor, cutoff] = [start, 1, null as number | null];
  let isAlpha = false;
  for (let n = 0; at !== null && n < LONGEST; n++) {
    const node: Node | undefined = nodeOf(at);
    const value = (input: string) => node?.inputs.get(input)?.value;
    if (node?.kind === 'image') {
      if (!isAlpha) throw wrong('its opacity is not the alpha of a picture');
      return { file: value('file') ?? '', factor, cutoff };
    }
    if (node?.kind === 'multiply') factor *= Number(value('in2'));
    if (node?.kind === 'extract') isAlpha = value('index') === '3';
    if (node?.kind === 'ifgreatereq') {
      if (value('in1') !== '1' || value('in2') !== '0') throw wrong('its comparison does not keep what is opaque');
      cutoff = Number(value('value2'));
    }
    at = (node?.inputs.get('in') ?? (node?.kind === 'ifgreatereq' ? node.inputs.get('value1') : node?.inputs.get('in1')))?.nodename ?? null; // prettier-ignore
  }
  return null;
}

function parsed(text: string): Plain {
  const parser = new XMLParser({ ignoreAttributes: false, attributeNamePrefix: '', parseAttributeValue: false });
  let found: unknown;
  try {
    found = parser.parse(text);
  } catch (error) {
    throw wrong((error as Error).message);
  }
  const root = (found as { materialx?: Plain }).materialx;
  if (typeof root !== 'object') throw wrong('it has no materialx');
  if (!String(root.version).startsWith('1.39')) throw wrong(`it is of version ${String(root.version)}`);
  return root;
}

const listOf = (value: unknown): Plain[] => (value === undefined ? [] : Array.isArray(value) ? (value as Plain[]) : [value as Plain]); // prettier-ignore

function nodesOf(parent: Plain): Map<string, Node> {
  const out = new Map<string, Node>();
  for (const [kind, value] of Object.entries(parent)) {
    if (typeof value !== 'object' || kind === 'nodegraph' || kind === 'output') continue;
    for (const node of listOf(value)) {
      const inputs = new Map(listOf(node.input).map((i) => [String(i.name), i as unknown as Input]));
      out.set(String(node.name), { kind, name: String(node.name), inputs });
    }
  }
  return out;
}

function graphOf(graph: Plain): { nodes: Map<string, Node>; outputs: Map<string, string> } {
  return {
    nodes: nodesOf(graph),
    outputs: new Map(listOf(graph.output).map((o) => [String(o.name), String(o.nodename)])),
  };
}
