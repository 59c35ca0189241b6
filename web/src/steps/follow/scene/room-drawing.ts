import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DoubleSide,
  Float32BufferAttribute,
  Group,
  Line,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Object3D,
  PerspectiveCamera,
  Points,
  PointsMaterial,
  Quaternion,
  Scene as Stage,
  Vector3 as Vector,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { TransformControls } from 'three/examples/jsm/controls/TransformControls.js';
import type { Quad } from '../../../../../core/base/geometry/quad.ts';
import { centreOf } from '../../../../../core/motion/scene/bundle-adjustment.ts';
import { closenessOf, rayOf, type ScenePlane } from '../../../../../core/motion/scene/scene-plane.ts';
import type { Scene } from '../../../../../core/motion/scene/scene.ts';
import { inCamera, inWorld } from '../../../../../core/motion/scene/camera-frames.ts';

export type HandleKind = 'move' | 'turn';

/** The scene's axes have y down and z away; drawn with y up and z towards the eye. */
const shown = ([x, y, z]: readonly [number, number, number]) => new Vector(x, -y, -z);
const back = ({ x, y, z }: Vector): [number, number, number] => [x, -y, -z];
/** Points farther than so many times the middle distance are not drawn. */
const FARTHEST = 6;

/** The room drawn in space with three.js: it is drawn only when something changes. */
export class RoomDrawing {
  private readonly renderer: WebGLRenderer;
  private readonly stage = new Stage();
  private readonly eye = new PerspectiveCamera(45, 1, 0.01, 1000);
  private readonly orbit: OrbitControls;
  private readonly handles: TransformControls;
  private readonly room = new Group();
  private readonly pivot = new Object3D();
  private placed: { scene: Scene; plane: ScenePlane; corners: Quad; middle: Vector; normal: Vector } | null = null;
  private seen: Scene | null = null;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly place: (plane: ScenePlane) => void,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.renderer.setPixelRatio(window.devicePixelRatio || 1);
    this.orbit = new OrbitControls(this.eye, canvas);
    this.orbit.addEventListener('change', () => this.draw());
    this.handles = new TransformControls(this.eye, canvas);
    this.handles.setSpace('local');
    this.handles.setSize(0.8);
    this.handles.addEventListener('change', () => this.draw());
    this.handles.addEventListener('dragging-changed', (event) => {
      this.orbit.enabled = event.value !== true;
      if (event.value !== true) this.take();
    });
    this.stage.add(this.room, this.pivot, this.handles.getHelper());
  }

  show(scene: Scene, plane: ScenePlane | null, corners: Quad | null, frame: number, handle: HandleKind): void {
    const first = this.seen !== scene;
    this.seen = scene;
    this.clear();
    const centres = scene.frames.map((f) => shown(centreOf(f.camera)));
    const middle = middleOf(scene);
    const reach = Math.max(1e-6, ...scene.points.slice(0, 1).map(() => middle.distance));
    this.addPoints(scene, middle);
    this.addLine(centres, 0xb4530a);
    const on = scene.frames.find((f) => f.frame === frame);
    if (on) this.addCamera(scene, frame, reach * 0.16);
    if (plane && corners) this.addPlane(scene, plane, corners, handle);
    else {
      this.handles.detach();
      this.placed = null;
    }
    if (first) this.lookFrom(scene, middle);
    this.draw();
  }

  close(): void {
    this.clear();
    this.handles.dispose();
    this.orbit.dispose();
    this.renderer.dispose();
  }

  private lookFrom(scene: Scene, { at, distance }: { at: Vector; distance: number }): void {
    const home = shown(centreOf(scene.frames[scene.frames.length >> 1]!.camera));
    const way = at.clone().sub(home);
    this.eye.near = distance / 200;
    this.eye.far = distance * 60;
    this.eye.position
      .copy(home)
      .sub(way.multiplyScalar(0.5))
      .add(new Vector(0.6 * distance, 0.7 * distance, 0));
    this.orbit.target.copy(at);
    this.eye.lookAt(at);
    this.orbit.update();
  }

  private addPoints(scene: Scene, { at, distance }: { at: Vector; distance: number }): void {
    const places = scene.points.map((p) => shown(p.at)).filter((p) => p.distanceTo(at) < FARTHEST * distance);
    const geometry = new BufferGeometry().setFromPoints(places);
    this.room.add(new Points(geometry, new PointsMaterial({ color: 0x15181a, size: 2, sizeAttenuation: false })));
  }

  private addLine(places: readonly Vector[], colour: number): void {
    this.room.add(new Line(new BufferGeometry().setFromPoints([...places]), new LineBasicMaterial({ color: colour })));
  }

  /** The camera of the frame on show as a pyramid. */
  private addCamera(scene: Scene, frame: number, size: number): void {
    const { camera } = scene.frames.find((f) => f.frame === frame)!;
    const [cx, cy] = scene.centre;
    const apex = shown(centreOf(camera));
    const ends = (
      [
        [0, 0],
        [2 * cx, 0],
        [2 * cx, 2 * cy],
        [0, 2 * cy],
      ] as const
    ).map((p) => {
      const ray = rayOf(scene, camera, p);
      const [x, y, z] = inWorld(camera, ray);
      return apex.clone().add(shown([x * size, y * size, z * size]));
    });
    const lines = ends.flatMap((end, i) => [apex, end, end, ends[(i + 1) % 4]!]);
    this.room.add(
      new LineSegments(new BufferGeometry().setFromPoints(lines), new LineBasicMaterial({ color: 0xb4530a })),
    );
  }

  private addPlane(scene: Scene, plane: ScenePlane, corners: Quad, handle: HandleKind): void {
    const home = scene.frames.find((f) => f.frame === plane.frame);
    if (!home) return;
    const places = corners.map((c) => {
      const ray = rayOf(scene, home.camera, c);
      const closeness = closenessOf(plane.normal, ray);
      const [x, y, z] = inWorld(home.camera, [
        ray[0] / closeness - home.camera.position[0],
        ray[1] / closeness - home.camera.position[1],
        ray[2] / closeness - home.camera.position[2],
      ]);
      return shown([x, y, z]);
    });
    const geometry = new BufferGeometry();
    geometry.setAttribute(
      'position',
      new Float32BufferAttribute(
        places.flatMap((p) => p.toArray()),
        3,
      ),
    );
    geometry.setIndex(new BufferAttribute(Uint16Array.from([0, 1, 2, 0, 2, 3]), 1));
    this.room.add(
      new Mesh(
        geometry,
        new MeshBasicMaterial({
          color: new Color(0xb4530a),
          transparent: true,
          opacity: 0.45,
          side: DoubleSide,
          depthWrite: false,
        }),
      ),
    );
    this.addLine([...places, places[0]!], 0x15181a);
    const middle = places.reduce((a, b) => a.clone().add(b)).multiplyScalar(0.25);
    const across = places[1]!.clone().sub(places[0]!).normalize();
    const normal = across.clone().cross(places[3]!.clone().sub(places[0]!)).normalize();
    this.pivot.position.copy(middle);
    this.pivot.quaternion.setFromRotationMatrix(new Matrix4().makeBasis(across, normal.clone().cross(across), normal));
    this.placed = { scene, plane, corners, middle, normal };
    this.handles.setMode(handle === 'move' ? 'translate' : 'rotate');
    this.handles.attach(this.pivot);
  }

  /** What the handles were moved to, as a plane of the reference frame's camera. */
  private take(): void {
    if (!this.placed) return;
    const { scene, plane } = this.placed;
    const home = scene.frames.find((f) => f.frame === plane.frame);
    const turned = new Vector(0, 0, 1).applyQuaternion(new Quaternion().copy(this.pivot.quaternion));
    if (!home) return;
    const at = inCamera(home.camera, back(this.pivot.position));
    const origin = inCamera(home.camera, back(this.pivot.position.clone().add(turned)));
    const n = [origin[0] - at[0], origin[1] - at[1], origin[2] - at[2]] as const;
    const along = n[0] * at[0] + n[1] * at[1] + n[2] * at[2];
    if (!(Math.abs(along) > 1e-9)) return;
    this.place({ ...plane, normal: [n[0] / along, n[1] / along, n[2] / along] });
  }

  private clear(): void {
    for (const child of [...this.room.children]) {
      this.room.remove(child);
      const { geometry, material } = child as unknown as { geometry?: BufferGeometry; material?: { dispose(): void } };
      geometry?.dispose();
      material?.dispose();
    }
  }

  private draw(): void {
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (w === 0 || h === 0) return;
    this.renderer.setSize(w, h, false);
    this.eye.aspect = w / h;
    this.eye.updateProjectionMatrix();
    this.renderer.render(this.stage, this.eye);
    this.canvas.dataset.drawn = String(this.renderer.info.render.points);
  }
}

/** The middle of the points, and how far it is from the cameras. */
function middleOf(scene: Scene): { at: Vector; distance: number } {
  const home = shown(centreOf(scene.frames[scene.frames.length >> 1]!.camera));
  const sorted = (k: 0 | 1 | 2) =>
    scene.points.map((p) => shown(p.at).toArray()[k]).sort((a, b) => a - b)[scene.points.length >> 1] ?? 0;
  const at = new Vector(sorted(0), sorted(1), sorted(2));
  return { at, distance: Math.max(1e-6, at.distanceTo(home)) };
}
