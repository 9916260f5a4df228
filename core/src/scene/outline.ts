import type { Finding } from '../findings/finding.ts';
import { animationLength } from './pose.ts';
import { plainly, type SceneFile } from './open.ts';
import { UniqueNames } from './unique-names.ts';

/** One entry of a scene's tree. */
export interface OutlineNode {
  path: string;
  /** Last name of the path. */
  name: string;
  /** Path of the group it is in, or undefined at the top. */
  parent?: string;
  kind: 'object' | 'group' | 'camera' | 'light';
  /** Objects only. */
  triangles: number;
  /** Names of its materials, in the order of the scene's list. */
  materials: string[];
  /** Extras of the node that are text, numbers or yes/no. */
  attributes: Record<string, string>;
}

/** What a scene holds, without its geometry. */
export interface SceneOutline {
  nodes: OutlineNode[];
  materials: string[];
  cameras: string[];
  /** Length of the animation in seconds; 0 for a scene at rest. */
  seconds: number;
  triangles: number;
  findings: Finding[];
}

/**
 * Lists what is in a scene, with the faults that matter before a render. Throws {@link SceneError} for one that is
 * damaged.
 */
export const outlineOf = (file: SceneFile): SceneOutline => plainly(() => listScene(file));

function listScene(file: SceneFile): SceneOutline {
  const { document, nodes } = file;
  const findings = [...file.findings];
  const pathOf = new Map(nodes.map((n) => [n.node, n.path]));
  const materialNames = new Map<unknown, string>();
  const unique = new UniqueNames();
  const nameOf = (material: { getName(): string } | null): string => {
    const known = materialNames.get(material);
    if (known !== undefined) return known;
    const name = unique.give(material?.getName() || 'unnamed');
    materialNames.set(material, name);
    return name;
  };
  const list = nodes.map(({ node, path }): OutlineNode => {
    const mesh = node.getMesh();
    const parts = (mesh?.listPrimitives() ?? []).filter(
      (p) => p.getMode() >= 4 && (p.getAttribute('POSITION')?.getCount() ?? 0) >= 3,
    );
    const above = node.getParentNode();
    const parent = above ? pathOf.get(above) : undefined;
    return {
      path,
      name: path.slice(path.lastIndexOf('/') + 1),
      ...(parent === undefined ? {} : { parent }),
      kind: mesh
        ? 'object'
        : node.getCamera()
          ? 'camera'
          : node.getExtension('KHR_lights_punctual')
            ? 'light'
            : 'group',
      triangles: parts.reduce((n, p) => {
        const corners = p.getIndices()?.getCount() ?? p.getAttribute('POSITION')!.getCount();
        return n + (p.getMode() === 4 ? Math.floor(corners / 3) : corners - 2);
      }, 0),
      materials: [...new Set(parts.map((p) => nameOf(p.getMaterial())))],
      attributes: Object.fromEntries(
        Object.entries(node.getExtras()).flatMap(([key, value]) =>
          ['string', 'number', 'boolean'].includes(typeof value) ? [[key, String(value)]] : [],
        ),
      ),
    };
  });
  const say = (severity: Finding['severity'], code: string, message: string) =>
    findings.push({ severity, code, message });
  // The list runs alongside the nodes.
  const cameras = list.filter((_, i) => nodes[i]!.node.getCamera()).map((n) => n.path);
  const triangles = list.reduce((n, o) => n + o.triangles, 0);
  if (triangles === 0)
    say('error', 'scene-empty', 'The scene has no triangles, so there is nothing to render.');
  if (cameras.length === 0)
    say(
      'warning',
      'camera-missing',
      'The scene has no camera. A view from the front that frames everything is used.',
    );
  if (!nodes.some(({ node }) => node.getExtension('KHR_lights_punctual')))
    say('info', 'light-missing', 'The scene has no light of its own; the sky lights it.');
  const empty = list.filter((n) => n.kind === 'object' && n.triangles === 0);
  if (empty.length)
    say(
      'info',
      'object-empty',
      `${empty.length} object(s) have no triangles and cannot be seen, for example "${empty[0]!.path}".`,
    );
  if (
    nodes.some(({ node }) =>
      node
        .getMesh()
        ?.listPrimitives()
        .some((p) => !p.getAttribute('NORMAL')),
    )
  )
    say('info', 'normals-missing', 'Some surfaces have no normals and are shown with flat facets.');
  return {
    nodes: list,
    materials: [...materialNames.values()],
    cameras,
    seconds: animationLength(document),
    triangles,
    findings,
  };
}
