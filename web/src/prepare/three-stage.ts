import * as THREE from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { acceleratedRaycast, computeBoundsTree } from 'three-mesh-bvh';
import type { Texture, Wrap } from '@zesty-crow/core/scene';
import type { ShownPart, ShownScene } from './scene-messages.ts';

THREE.Mesh.prototype.raycast = acceleratedRaycast;

/** Brightness of what is not selected while something is. */
const DIMMED = 0.4;

const ROOM = '#6b6b6b';

const COMPOSITE = {
  vertex: `varying vec2 at;
    void main() { at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }`,
  // What is not selected is dimmed, and what is gets a light line with a dark one around it: no colour is changed.
  fragment: `varying vec2 at;
    uniform sampler2D picture;
    uniform sampler2D chosen;
    uniform vec2 pixel;
    uniform float dim;
    float around(float r) {
      float most = 0.0;
      for (int i = 0; i < 12; i++) {
        float a = float(i) * 0.5236;
        most = max(most, texture2D(chosen, at + r * pixel * vec2(cos(a), sin(a))).r);
      }
      return most;
    }
    void main() {
      vec4 c = texture2D(picture, at);
      if (dim < 1.0) {
        float here = texture2D(chosen, at).r;
        float near = around(1.3);
        float far = around(2.8);
        c.rgb *= mix(dim, 1.0, here);
        c.rgb = mix(c.rgb, vec3(0.004), clamp(far - near, 0.0, 1.0));
        c.rgb = mix(c.rgb, vec3(0.95), clamp(near - here, 0.0, 1.0));
      }
      gl_FragColor = c;
      #include <colorspace_fragment>
    }`,
};

const WRAPS: Record<Wrap, THREE.Wrapping> = {
  repeat: THREE.RepeatWrapping,
  mirror: THREE.MirroredRepeatWrapping,
  clamp: THREE.ClampToEdgeWrapping,
};
function toThree({ width, height, data, wrapS, wrapT }: Texture): THREE.Texture {
  const pixels = data as Uint8Array<ArrayBuffer>;
  const made = new THREE.DataTexture(pixels, width, height, THREE.RGBAFormat);
  made.colorSpace = THREE.SRGBColorSpace;
  made.wrapS = WRAPS[wrapS];
  made.wrapT = WRAPS[wrapT];
  made.magFilter = THREE.LinearFilter;
  made.minFilter = THREE.LinearMipmapLinearFilter;
  made.generateMipmaps = true;
  made.needsUpdate = true;
  return made;
}

/** What was hit by a click. */
export interface Hit {
  object: number;
  material: number;
}

/** The scene in three dimensions; it is drawn only when something has changed. */
export class ThreeStage {
  private readonly renderer: THREE.WebGLRenderer;
  private readonly scene = new THREE.Scene();
  private readonly camera = new THREE.PerspectiveCamera(40, 1, 0.01, 1000);
  private readonly controls: OrbitControls;
  private readonly picture = new THREE.WebGLRenderTarget(1, 1, { samples: 4, type: THREE.HalfFloatType });
  private readonly chosen = new THREE.WebGLRenderTarget(1, 1, { samples: 4 });
  private readonly white = new THREE.MeshBasicMaterial({ color: 0xffffff, side: THREE.DoubleSide });
  private readonly black = new THREE.MeshBasicMaterial({ color: 0x000000, side: THREE.DoubleSide });
  private readonly composite: THREE.ShaderMaterial;
  private readonly quad = new THREE.Scene();
  private readonly flat = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
  private meshes: {
    mesh: THREE.Mesh;
    object: number;
    material: number;
    own: THREE.Material;
    /** In which it is shown as in a pass. */
    flat?: THREE.Material | undefined;
  }[] = [];
  private painted = false;
  private textures: THREE.Texture[] = [];
  private shown: ShownScene | undefined;
  private isChosen: (object: number, material: number) => boolean = () => false;
  private anyChosen = false;
  private due = false;

  /** Throws if the browser has no WebGL. */
  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly onDrawn: () => void = () => undefined,
  ) {
    this.renderer = new THREE.WebGLRenderer({ canvas, antialias: false, preserveDrawingBuffer: true });
    this.renderer.setPixelRatio(1);
    this.scene.background = new THREE.Color(ROOM);
    const sky = new THREE.HemisphereLight(0xffffff, 0x6d6a66, 1.6);
    const key = new THREE.DirectionalLight(0xffffff, 1.9);
    key.position.set(-0.6, 1, 0.8);
    this.scene.add(sky, key);
    this.composite = new THREE.ShaderMaterial({
      vertexShader: COMPOSITE.vertex,
      fragmentShader: COMPOSITE.fragment,
      uniforms: {
        picture: { value: this.picture.texture },
        chosen: { value: this.chosen.texture },
        pixel: { value: new THREE.Vector2() },
        dim: { value: 1 },
      },
      depthTest: false,
    });
    this.quad.add(new THREE.Mesh(new THREE.PlaneGeometry(2, 2), this.composite));
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.redraw());
  }

  load(shown: ShownScene): void {
    this.clear();
    this.shown = shown;
    this.textures = shown.textures.map(toThree);
    for (const part of shown.parts) {
      const geometry = new THREE.BufferGeometry();
      geometry.setAttribute('position', new THREE.BufferAttribute(part.positions, 3));
      geometry.setAttribute('normal', new THREE.BufferAttribute(part.normals, 3));
      geometry.setAttribute('color', new THREE.BufferAttribute(part.colours, 3));
      if (part.uvs) geometry.setAttribute('uv', new THREE.BufferAttribute(part.uvs, 2));
      const own = this.materialOf(part);
      const mesh = new THREE.Mesh(geometry, own);
      this.meshes.push({ mesh, object: part.object, material: part.material, own });
      this.scene.add(mesh);
    }
    this.fromCamera();
  }

  private materialOf({ texture, cutoff, transparent }: ShownPart): THREE.Material {
    return new THREE.MeshLambertMaterial({
      vertexColors: true,
      side: THREE.DoubleSide,
      alphaTest: cutoff,
      ...(texture === undefined ? {} : { map: this.textures[texture]! }),
      ...(transparent ? { transparent: true, opacity: 0.35, depthWrite: false } : {}),
    });
  }

  /** Looks through the scene's own camera. */
  fromCamera(): void {
    if (!this.shown) return;
    const { matrix, yfov } = this.shown.camera;
    const m = new THREE.Matrix4().fromArray(matrix);
    m.decompose(this.camera.position, this.camera.quaternion, this.camera.scale);
    this.camera.fov = THREE.MathUtils.radToDeg(yfov || 0.6);
    const box = new THREE.Box3();
    for (const { mesh } of this.meshes) {
      mesh.geometry.computeBoundingBox();
      box.union(mesh.geometry.boundingBox!);
    }
    const size = box.getSize(new THREE.Vector3()).length() || 1;
    this.camera.near = size / 2000;
    this.camera.far = size * 20;
    // The controls turn about the point in the middle of the picture.
    const ahead = new THREE.Vector3(0, 0, -1).applyQuaternion(this.camera.quaternion);
    const hit = this.rayAt(0, 0)[0];
    this.controls.target.copy(this.camera.position).addScaledVector(ahead, hit?.distance ?? size / 3);
    this.controls.update();
    this.redraw();
  }

  /**
   * Shows every part in one flat colour, as an ID pass does; without colours as it is.
   * @param colourOf sRGB, 0 to 1
   */
  paint(
    colourOf: ((object: number, material: number) => readonly [number, number, number]) | undefined,
  ): void {
    this.painted = colourOf !== undefined;
    this.scene.background = new THREE.Color(this.painted ? '#000000' : ROOM);
    for (const m of this.meshes) {
      m.flat?.dispose();
      m.flat = undefined;
      if (!colourOf) continue;
      const [r, g, b] = colourOf(m.object, m.material);
      m.flat = new THREE.MeshBasicMaterial({
        color: new THREE.Color().setRGB(r, g, b, THREE.SRGBColorSpace),
        side: THREE.DoubleSide,
      });
    }
    for (const m of this.meshes) m.mesh.material = m.flat ?? m.own;
    this.redraw();
  }

  /** Where the middle of each object that is not hidden is seen, in pixels of the canvas. */
  places(): { object: number; x: number; y: number }[] {
    const boxes = new Map<number, THREE.Box3>();
    for (const { mesh, object } of this.meshes) {
      if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
      const box = boxes.get(object) ?? new THREE.Box3();
      boxes.set(object, box.union(mesh.geometry.boundingBox!));
    }
    const { width, height } = this.canvas.getBoundingClientRect();
    return [...boxes].flatMap(([object, box]) => {
      const at = box.getCenter(new THREE.Vector3()).project(this.camera);
      if (Math.abs(at.x) > 1 || Math.abs(at.y) > 1 || at.z > 1) return [];
      const hit = this.rayAt(at.x, at.y)[0];
      if (this.meshes.find((m) => m.mesh === hit?.object)?.object !== object) return [];
      return [{ object, x: ((at.x + 1) / 2) * width, y: ((1 - at.y) / 2) * height }];
    });
  }

  select(isChosen: (object: number, material: number) => boolean, any: boolean): void {
    this.isChosen = isChosen;
    this.anyChosen = any;
    this.redraw();
  }

  resize(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    this.picture.setSize(width, height);
    this.chosen.setSize(width, height);
    this.camera.aspect = width / Math.max(1, height);
    this.camera.updateProjectionMatrix();
    this.redraw();
  }

  private rayAt(x: number, y: number): THREE.Intersection[] {
    this.camera.updateMatrixWorld();
    this.camera.updateProjectionMatrix();
    const ray = new THREE.Raycaster();
    ray.setFromCamera(new THREE.Vector2(x, y), this.camera);
    for (const { mesh } of this.meshes) if (!mesh.geometry.boundsTree) computeBoundsTree.call(mesh.geometry);
    return ray.intersectObjects(
      this.meshes.map((m) => m.mesh),
      false,
    );
  }

  /** What is under a point of the canvas, nearest first; a thing that is hit twice is told once. */
  hitsAt(x: number, y: number): Hit[] {
    const { width, height } = this.canvas.getBoundingClientRect();
    const hits = this.rayAt((x / width) * 2 - 1, 1 - (y / height) * 2);
    const out: Hit[] = [];
    for (const hit of hits) {
      const found = this.meshes.find((m) => m.mesh === hit.object)!;
      if (!out.some((h) => h.object === found.object && h.material === found.material))
        out.push({ object: found.object, material: found.material });
    }
    return out;
  }

  private redraw(): void {
    if (this.due) return;
    this.due = true;
    requestAnimationFrame(() => {
      this.due = false;
      this.draw();
    });
  }

  private draw(): void {
    const { renderer } = this;
    const { width, height } = this.canvas;
    if (width === 0 || height === 0) return;
    renderer.setRenderTarget(this.picture);
    renderer.render(this.scene, this.camera);
    if (this.anyChosen) {
      const background = this.scene.background;
      this.scene.background = null;
      renderer.setRenderTarget(this.chosen);
      renderer.setClearColor(0x000000, 1);
      renderer.clear();
      for (const m of this.meshes) {
        const on = this.isChosen(m.object, m.material);
        m.mesh.material = on ? this.white : this.black;
        // What is behind glass can be chosen, too, so glass covers nothing here.
        m.mesh.visible = on || this.painted || !m.own.transparent;
      }
      renderer.render(this.scene, this.camera);
      for (const m of this.meshes) {
        m.mesh.material = m.flat ?? m.own;
        m.mesh.visible = true;
      }
      this.scene.background = background;
    }
    (this.composite.uniforms['pixel']!.value as THREE.Vector2).set(1 / width, 1 / height);
    this.composite.uniforms['dim']!.value = this.anyChosen ? DIMMED : 1;
    renderer.setRenderTarget(null);
    renderer.render(this.quad, this.flat);
    this.onDrawn();
  }

  private clear(): void {
    for (const { mesh, own, flat } of this.meshes) {
      this.scene.remove(mesh);
      mesh.geometry.dispose();
      own.dispose();
      flat?.dispose();
    }
    this.meshes = [];
    for (const texture of this.textures) texture.dispose();
    this.textures = [];
  }

  dispose(): void {
    this.clear();
    this.controls.dispose();
    this.picture.dispose();
    this.chosen.dispose();
    this.renderer.dispose();
  }
}
