/**
 * Runs in the browser page of the demo renderer. Each frame is the mean of many sub-frames; every sub-frame has its
 * own moment inside the open shutter, place inside the pixel, point on the lens and point on the sun, so one
 * accumulation gives motion blur, anti-aliasing, depth of field and soft shadows (Haeberli and Akeley 1990). The
 * subject's alpha is accumulated from the same sub-frames, so it is exact, with everything that hides the subject.
 */
import * as THREE from 'three';
import { hash2 } from './noise.ts';
import { duneKite } from './scenes/dune-kite.ts';
import { ferryRamp } from './scenes/ferry-ramp.ts';
import { quayCourier, quayCourierAgain, quayPasserBy } from './scenes/quay-courier.ts';
import type { Scene } from './scenes/scene.ts';
import { stormLantern } from './scenes/storm-lantern.ts';

const WIDTH = 960;
const HEIGHT = 540;
const scenes: Record<string, () => Scene> = {
  'quay-courier': quayCourier,
  'quay-courier-again': quayCourierAgain,
  'quay-passer-by': quayPasserBy,
  'storm-lantern': stormLantern,
  'ferry-ramp': ferryRamp,
  'dune-kite': duneKite,
};
/** The shutter is open for the first half of a frame. */
const OPEN = 0.5;

const renderer = new THREE.WebGLRenderer({ antialias: false, preserveDrawingBuffer: true });
renderer.setSize(WIDTH, HEIGHT, false);
renderer.shadowMap.enabled = true;
renderer.shadowMap.type = THREE.PCFShadowMap;
renderer.toneMapping = THREE.NoToneMapping;
document.body.appendChild(renderer.domElement);

const floatTarget = (depthBuffer: boolean) =>
  new THREE.WebGLRenderTarget(WIDTH, HEIGHT, { type: THREE.FloatType, depthBuffer, minFilter: THREE.NearestFilter, magFilter: THREE.NearestFilter });
const shot = floatTarget(true);
const picture = floatTarget(false);
const coverage = floatTarget(false);

const screen = new THREE.Mesh(new THREE.PlaneGeometry(2, 2));
const screenScene = new THREE.Scene().add(screen);
screen.frustumCulled = false;
const flat = new THREE.OrthographicCamera(-1, 1, 1, -1, 0, 1);
const VERTEX = 'varying vec2 at; void main(){ at = uv; gl_Position = vec4(position.xy, 0.0, 1.0); }';
const addPass = new THREE.ShaderMaterial({
  vertexShader: VERTEX,
  fragmentShader: 'varying vec2 at; uniform sampler2D source; uniform float weight; void main(){ gl_FragColor = texture2D(source, at) * weight; }',
  uniforms: { source: { value: shot.texture }, weight: { value: 1 } },
  blending: THREE.CustomBlending,
  blendSrc: THREE.OneFactor,
  blendDst: THREE.OneFactor,
  depthTest: false,
});

function accumulate(into: THREE.WebGLRenderTarget, weight: number): void {
  addPass.uniforms.weight.value = weight;
  screen.material = addPass as unknown as THREE.MeshBasicMaterial;
  renderer.autoClear = false;
  renderer.setRenderTarget(into);
  renderer.render(screenScene, flat);
  renderer.autoClear = true;
}

const white = new THREE.MeshBasicMaterial({ color: 0xffffff, fog: false });
const black = new THREE.MeshBasicMaterial({ color: 0x000000, fog: false });

/** Renders the subject white and the rest black, keeping what hides it. */
function renderCoverage(current: Scene): void {
  const kept: [THREE.Mesh, THREE.Material | THREE.Material[]][] = [];
  const inSubject = new Set<THREE.Object3D>();
  current.subject.traverse((o) => inSubject.add(o));
  current.scene.traverse((o) => {
    const mesh = o as THREE.Mesh;
    if (!mesh.isMesh) return;
    kept.push([mesh, mesh.material]);
    mesh.material = inSubject.has(mesh) ? white : black;
  });
  const background = current.scene.background;
  current.scene.background = new THREE.Color(0);
  renderer.shadowMap.autoUpdate = false;
  renderer.setRenderTarget(shot);
  renderer.render(current.scene, current.camera);
  renderer.shadowMap.autoUpdate = true;
  current.scene.background = background;
  for (const [mesh, material] of kept) mesh.material = material;
}

let loaded: { name: string; scene: Scene } | null = null;
const radicalInverse = (n: number, base: number) => {
  let value = 0;
  let f = 1 / base;
  for (let i = n; i > 0; i = Math.floor(i / base), f /= base) value += f * (i % base);
  return value;
};

function filmic(x: number): number {
  // The rational fit of a filmic curve by Narkowicz (2015).
  return Math.max(0, Math.min(1, (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14)));
}
const toSrgb = (v: number) => (v <= 0.0031308 ? v * 12.92 : 1.055 * v ** (1 / 2.4) - 0.055);

function base64(bytes: Uint8Array): string {
  let text = '';
  for (let i = 0; i < bytes.length; i += 0x8000) text += String.fromCharCode(...bytes.subarray(i, i + 0x8000));
  return btoa(text);
}

/** Renders one frame; returns RGB24 rows top down, and alpha as 8-bit coverage. */
async function renderFrame(name: string, frame: number, samples: number, withSubject: boolean): Promise<{ rgb: string; alpha: string }> {
  if (loaded?.name !== name) loaded = { name, scene: scenes[name]() };
  const current = loaded.scene;
  const { camera } = current;
  for (const target of [picture, coverage]) {
    renderer.setRenderTarget(target);
    renderer.setClearColor(0, 0);
    renderer.clear();
  }
  current.subject.visible = withSubject;
  const fixed = camera.position.clone();
  for (let s = 0; s < samples; s++) {
    camera.position.copy(fixed);
    current.pose(frame + (OPEN * (s + 0.5)) / samples);
    const home = camera.position.clone();
    const spin = radicalInverse(s + 1, 2) * Math.PI * 2;
    const reach = Math.sqrt(radicalInverse(s + 1, 3));
    for (const { light, radius, home: at } of current.lights)
      light.position.set(at.x + Math.cos(spin) * reach * radius, at.y, at.z + Math.sin(spin) * reach * radius);
    const lens = radicalInverse(s + 1, 5) * Math.PI * 2;
    const out = Math.sqrt(radicalInverse(s + 1, 7)) * current.aperture;
    const dx = Math.cos(lens) * out;
    const dy = Math.sin(lens) * out;
    camera.position.copy(home).add(new THREE.Vector3(dx, dy, 0).applyQuaternion(camera.quaternion));
    // Shearing the view keeps the plane of focus fixed while the lens point moves.
    const perPixel = HEIGHT / 2 / Math.tan(((camera.fov / 2) * Math.PI) / 180) / current.focus;
    camera.setViewOffset(WIDTH, HEIGHT, radicalInverse(s + 1, 2) - 0.5 - dx * perPixel, radicalInverse(s + 1, 3) - 0.5 + dy * perPixel, WIDTH, HEIGHT);
    renderer.setRenderTarget(shot);
    renderer.render(current.scene, camera);
    accumulate(picture, 1 / samples);
    if (withSubject) {
      renderCoverage(current);
      accumulate(coverage, 1 / samples);
    }
  }
  camera.position.copy(fixed);
  const floats = new Float32Array(WIDTH * HEIGHT * 4);
  renderer.readRenderTargetPixels(picture, 0, 0, WIDTH, HEIGHT, floats);
  const rgb = new Uint8Array(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++) {
    for (let x = 0; x < WIDTH; x++) {
      const from = ((HEIGHT - 1 - y) * WIDTH + x) * 4;
      const to = (y * WIDTH + x) * 3;
      const radial = Math.hypot(x / WIDTH - 0.5, (y / HEIGHT - 0.5) * 0.6);
      const grain = (hash2(x, y, frame * 3 + 11) + hash2(x, y, frame * 3 + 12) - 1) * 0.022;
      for (let c = 0; c < 3; c++) {
        const own = (hash2(x, y, frame * 7 + 20 + c) - 0.5) * 0.012;
        const value = toSrgb(filmic(floats[from + c] * current.exposure * (1 - radial * radial * 0.7)));
        rgb[to + c] = Math.max(0, Math.min(255, Math.round((value + grain + own) * 255)));
      }
    }
  }
  const alpha = new Uint8Array(WIDTH * HEIGHT);
  if (withSubject) {
    renderer.readRenderTargetPixels(coverage, 0, 0, WIDTH, HEIGHT, floats);
    for (let y = 0; y < HEIGHT; y++)
      for (let x = 0; x < WIDTH; x++) alpha[y * WIDTH + x] = Math.round(Math.min(1, floats[((HEIGHT - 1 - y) * WIDTH + x) * 4]) * 255);
  }
  return { rgb: base64(rgb), alpha: base64(alpha) };
}

/** Where the marks of a scene are in the middle of a frame's exposure: plate pixels, and whether they are in sight. */
function marksAt(name: string, frame: number): Record<string, [number, number, boolean]> {
  if (loaded?.name !== name) loaded = { name, scene: scenes[name]() };
  const { scene, camera, marks, pose } = loaded.scene;
  camera.clearViewOffset();
  pose(frame + OPEN / 2);
  scene.updateMatrixWorld();
  camera.updateMatrixWorld();
  const ray = new THREE.Raycaster();
  return Object.fromEntries(
    marks.map(({ name: mark, on, at }) => {
      const there = on.localToWorld(at.clone());
      const far = there.distanceTo(camera.position);
      ray.set(camera.position, there.clone().sub(camera.position).normalize());
      const hit = ray.intersectObjects(scene.children, true).find((h) => h.distance < far - 0.06);
      const { x, y } = there.project(camera);
      const [px, py] = [((x + 1) / 2) * WIDTH, ((1 - y) / 2) * HEIGHT];
      const inside = px >= 0 && py >= 0 && px <= WIDTH && py <= HEIGHT;
      return [mark, [Math.round(px * 1000) / 1000, Math.round(py * 1000) / 1000, inside && !hit]];
    }),
  );
}

Object.assign(window, { renderFrame, marksAt, ready: true });
