import { XMLBuilder } from 'fast-xml-parser';
import { digits, nodeName, type CardScene, type SceneMaterial } from './scene.ts';

/** Shading models that a document is written with. */
export const MTLX_SHADERS = ['gltf_pbr', 'standard_surface'] as const;
export type MtlxShader = (typeof MTLX_SHADERS)[number];

/** An element as the builder takes it when order matters. */
interface Element {
  [name: string]: Element[] | Record<string, string>;
}

const element = (name: string, attributes: Record<string, string>, children: Element[] = []): Element => ({
  [name]: children,
  ':@': Object.fromEntries(Object.entries(attributes).map(([key, value]) => [`@_${key}`, value])),
});

const ADDRESS = { clamp: 'clamp', repeat: 'periodic', mirror: 'mirror' } as const;
/** As glTF 2.0 §5.19 numbers nothing, but the node gltf_pbr does. */
const ALPHA_MODE = { opaque: 0, mask: 1, blend: 2 } as const;
/** Reflectance head on at white, of the 4 % that glTF starts from: our maps reach 8 %. */
const SPECULAR_AT_WHITE = 2;

/**
 * The materials of a card as a document of MaterialX 1.39: gltf_pbr, whose mode and cutoff are inputs, or
 * standard_surface, where a mask is a comparison before its opacity. It holds no mesh.
 */
export function writeMtlx({ parts, wrap }: CardScene, shader: MtlxShader): string {
  const taken = new Set<string>();
  const materials = [...new Set(parts.map((p) => p.material))];
  const children = materials.flatMap((material) =>
    new Writer(material, wrap, nodeName(material.name, taken)).all(shader),
  );
  const root = [
    { '?xml': [{ '#text': '' }], ':@': { '@_version': '1.0' } },
    element('materialx', { version: '1.39', colorspace: 'lin_rec709' }, children),
  ];
  const builder = new XMLBuilder({
    preserveOrder: true,
    ignoreAttributes: false,
    format: true,
    suppressEmptyNode: true,
  });
  return `${builder.build(root).trim()}\n`;
}

type Type = 'color3' | 'color4' | 'vector3' | 'float' | 'integer' | 'boolean';

class Writer {
  private readonly nodes: Element[] = [];
  private readonly outputs: Element[] = [];
  private readonly inputs: Element[] = [];
  private readonly material: SceneMaterial;
  private readonly wrap: CardScene['wrap'];
  private readonly name: string;

  constructor(material: SceneMaterial, wrap: CardScene['wrap'], name: string) {
    [this.material, this.wrap, this.name] = [material, wrap, name];
  }

  all(shader: MtlxShader): Element[] {
    if (shader === 'gltf_pbr') this.gltfPbr();
    else this.standardSurface();
    const graph = this.nodes.length
      ? [element('nodegraph', { name: `${this.name}_graph` }, [...this.nodes, ...this.outputs])]
      : [];
    return [
      ...graph,
      element(shader, { name: `${this.name}_shader`, type: 'surfaceshader' }, this.inputs),
      element('surfacematerial', { name: this.name, type: 'material' }, [
        element('input', { name: 'surfaceshader', type: 'surfaceshader', nodename: `${this.name}_shader` }),
      ]),
    ];
  }

  private gltfPbr(): void {
    const { pictures, tint, mode, cutoff, emission } = this.material;
    const alpha = this.colourInto('base_color');
    if (!pictures.has('base')) this.value('base_color', 'color3', tint.map(digits).join(', '));
    this.surfaceInto({ roughness: 'roughness', metalness: 'metallic', occlusion: 'occlusion' });
    this.normalInto('normal');
    if (pictures.has('specular')) {
      const specular = this.image('specular', 'float');
      const rgb = this.node('convert', 'specular_rgb', 'color3', [this.link('in', 'float', specular)]);
      const twice = this.node('multiply', 'specular_scaled', 'color3', [
        this.link('in1', 'color3', rgb),
        this.constant('in2', 'float', String(SPECULAR_AT_WHITE)),
      ]);
      this.out('specular_color', 'color3', twice);
    }
    if (pictures.has('emission')) {
      this.out('emissive', 'color3', this.image('emission', 'color3'));
      this.value('emissive_strength', 'float', digits(emission));
    }
    if (alpha && mode !== 'opaque') this.out('alpha', 'float', alpha);
    this.value('alpha_mode', 'integer', String(ALPHA_MODE[mode]));
    if (mode === 'mask') this.value('alpha_cutoff', 'float', digits(cutoff));
  }

  private standardSurface(): void {
    const { pictures, tint, mode, cutoff, emission } = this.material;
    const alpha = this.colourInto('base_color');
    this.value('base', 'float', '1');
    if (!pictures.has('base')) this.value('base_color', 'color3', tint.map(digits).join(', '));
    this.surfaceInto({ roughness: 'specular_roughness', metalness: 'metalness' });
    this.normalInto('normal');
    if (pictures.has('translucency')) {
      this.out('subsurface', 'float', this.image('translucency', 'float'));
      if (pictures.has('throughColour')) this.out('subsurface_color', 'color3', this.image('throughColour', 'color3'));
      else if (pictures.has('base')) this.out('subsurface_color', 'color3', 'base_rgb');
    }
    if (pictures.has('emission')) {
      this.value('emission', 'float', digits(emission));
      this.out('emission_color', 'color3', this.image('emission', 'color3'));
    }
    // a sheet, not a body: what goes in at the front comes out at the back
    this.value('thin_walled', 'boolean', 'true');
    if (!alpha || mode === 'opaque') return;
    const opacity =
      mode === 'blend'
        ? alpha
        : this.node('ifgreatereq', 'clipped', 'float', [
            this.link('value1', 'float', alpha),
            this.constant('value2', 'float', digits(cutoff)),
            this.constant('in1', 'float', '1'),
            this.constant('in2', 'float', '0'),
          ]);
    this.out('opacity', 'color3', this.node('convert', 'opacity_rgb', 'color3', [this.link('in', 'float', opacity)]));
  }

  /** Colour, tinted, and the node of alpha with the factor of opacity in it; null without a picture. */
  private colourInto(input: string): string | null {
    const { pictures, tint, opacity } = this.material;
    if (!pictures.has('base')) return null;
    const base = this.image('base', 'color4');
    let rgb = this.node('convert', 'base_rgb', 'color3', [this.link('in', 'color4', base)]);
    if (tint.some((v) => v !== 1)) {
      rgb = this.node('multiply', 'base_tinted', 'color3', [
        this.link('in1', 'color3', rgb),
        this.constant('in2', 'color3', tint.map(digits).join(', ')),
      ]);
    }
    this.out(input, 'color3', rgb);
    const alpha = this.node('extract', 'base_alpha', 'float', [
      this.link('in', 'color4', base),
      this.constant('index', 'integer', '3'),
    ]);
    if (opacity === 1) return alpha;
    return this.node('multiply', 'base_opacity', 'float', [
      this.link('in1', 'float', alpha),
      this.constant('in2', 'float', digits(opacity)),
    ]);
  }

  /** Occlusion, roughness, metalness out of the channels of one picture. */
  private surfaceInto(inputs: { roughness: string; metalness: string; occlusion?: string }): void {
    const { pictures, slots, roughness } = this.material;
    const image = pictures.has('surface') ? this.image('surface', 'vector3') : null;
    for (const [index, slot] of (['occlusion', 'roughness', 'metalness'] as const).entries()) {
      const input = inputs[slot];
      if (!input) continue;
      if (image && slots.has(slot)) {
        const channel = this.node('extract', `surface_${slot}`, 'float', [
          this.link('in', 'vector3', image),
          this.constant('index', 'integer', String(index)),
        ]);
        this.out(input, 'float', channel);
      } else if (slot !== 'occlusion') this.value(input, 'float', slot === 'roughness' ? digits(roughness) : '0');
    }
  }

  private normalInto(input: string): void {
    if (!this.material.pictures.has('normal')) return;
    const image = this.image('normal', 'vector3');
    this.out(input, 'vector3', this.node('normalmap', 'normal_map', 'vector3', [this.link('in', 'vector3', image)]));
  }

  private image(use: Parameters<SceneMaterial['pictures']['get']>[0], type: Type): string {
    const colour = use === 'base' || use === 'emission' || use === 'throughColour';
    const file = element('input', {
      name: 'file',
      type: 'filename',
      value: this.material.pictures.get(use)!,
      ...(colour ? { colorspace: 'srgb_texture' } : {}),
    });
    const address = (input: string, way: keyof typeof ADDRESS) => element('input', { name: input, type: 'string', value: ADDRESS[way] }); // prettier-ignore
    const inputs = [file, address('uaddressmode', this.wrap.across), address('vaddressmode', this.wrap.down)];
    return this.node('image', use, type, inputs);
  }

  private node(kind: string, name: string, type: Type, inputs: Element[]): string {
    this.nodes.push(element(kind, { name, type }, inputs));
    return name;
  }

  private link = (name: string, type: Type, nodename: string) => element('input', { name, type, nodename });
  private constant = (name: string, type: Type, value: string) => element('input', { name, type, value });

  private value(name: string, type: Type, value: string): void {
    this.inputs.push(this.constant(name, type, value));
  }

  /** What leaves the graph, into an input of the shader. */
  private out(input: string, type: Type, nodename: string): void {
    this.outputs.push(element('output', { name: `${input}_out`, type, nodename }));
    this.inputs.push(element('input', { name: input, type, nodegraph: `${this.name}_graph`, output: `${input}_out` }));
  }
}
