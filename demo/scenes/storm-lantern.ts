/** "The storm lantern": it swings on its hook behind iron railings; the bars hide it in passing. */
import * as THREE from 'three';
import { fractalNoise } from '../noise.ts';
import { blocks, mottled, planks, surfaceMaterial } from '../textures.ts';
import { at, bar, placed, shaded, sun } from './build.ts';
import { lanternSwing } from './lantern-motion.ts';
import type { Scene } from './scene.ts';

const FRAMES = 72;
const HOOK = at(0, 2.05, -0.5);

function lantern() {
  const group = new THREE.Group();
  const tin = surfaceMaterial(mottled([0.32, 0.36, 0.34], [0.4, 0.22, 0.11], 0.42, 11, 21), [2, 1], 2);
  tin.metalness = 0.45;
  const wire = new THREE.MeshStandardMaterial({ color: 0x6d6a64, metalness: 0.7, roughness: 0.5 });
  const glass = new THREE.MeshStandardMaterial({ color: 0x8a6a38, emissive: 0xff9a3a, emissiveIntensity: 0.75, roughness: 0.12 });
  const parts = new THREE.Group();
  parts.position.y = -0.78;
  parts.add(placed(new THREE.CylinderGeometry(0.13, 0.155, 0.13, 28), tin, 0, 0.0, 0));
  parts.add(placed(new THREE.TorusGeometry(0.14, 0.016, 8, 28).rotateX(Math.PI / 2), tin, 0, 0.07, 0));
  const globe = placed(new THREE.SphereGeometry(0.125, 28, 20), glass, 0, 0.21, 0);
  globe.scale.y = 1.2;
  globe.castShadow = false;
  parts.add(globe);
  const flame = placed(new THREE.SphereGeometry(0.035, 14, 12), new THREE.MeshBasicMaterial({ color: new THREE.Color(6, 3.6, 1.4) }), 0, 0.2, 0.1);
  flame.scale.set(0.8, 1.9, 0.6);
  parts.add(flame);
  parts.add(placed(new THREE.CylinderGeometry(0.085, 0.12, 0.08, 24), tin, 0, 0.375, 0));
  parts.add(placed(new THREE.CylinderGeometry(0.055, 0.085, 0.07, 20), tin, 0, 0.45, 0), placed(new THREE.SphereGeometry(0.058, 18, 10), tin, 0, 0.49, 0));
  for (const side of [-1, 1]) {
    const curve = new THREE.CatmullRomCurve3([at(0.13 * side, -0.02, 0), at(0.2 * side, 0.08, 0), at(0.2 * side, 0.32, 0), at(0.1 * side, 0.42, 0)]);
    parts.add(shaded(new THREE.Mesh(new THREE.TubeGeometry(curve, 24, 0.016, 10), tin)));
  }
  for (const [a, b] of [
    [at(-0.13, 0.16, 0.09), at(0.13, 0.26, 0.09)],
    [at(-0.13, 0.26, 0.09), at(0.13, 0.16, 0.09)],
  ])
    parts.add(bar(a, b, 0.006, wire));
  const bail = new THREE.CatmullRomCurve3([at(-0.19, 0.3, 0), at(-0.17, 0.58, 0), at(0, 0.78, 0), at(0.17, 0.58, 0), at(0.19, 0.3, 0)]);
  parts.add(shaded(new THREE.Mesh(new THREE.TubeGeometry(bail, 40, 0.009, 8), wire)));
  group.add(parts);
  group.position.copy(HOOK);
  return { group, glass };
}

export function stormLantern(): Scene {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0.1, 0.14, 0.2);
  const boards = surfaceMaterial(planks(11, [0.36, 0.42, 0.42], 31), [1.6, 1], 4, 1024);
  const wall = new THREE.Mesh(new THREE.PlaneGeometry(7, 4), boards);
  wall.position.set(0, 1.5, -1.6);
  scene.add(shaded(wall));
  const stone = surfaceMaterial(blocks(5, 6, [0.45, 0.43, 0.4], 0.04, 33), [2, 1], 4);
  scene.add(placed(new THREE.BoxGeometry(6, 1.0, 0.5), stone, 0, 0.1, -1.5));
  const beam = surfaceMaterial(
    (u, v) => {
      const n = fractalNoise(u * 4, v * 40, 35, 5, 4) - 0.5;
      return { r: 0.3 + n * 0.25, g: 0.22 + n * 0.2, b: 0.15 + n * 0.15, height: 0.5 + n, rough: 0.85 };
    },
    [2, 1],
    3,
  );
  scene.add(placed(new THREE.BoxGeometry(5, 0.2, 0.24), beam, 0, 2.2, -0.55));
  const iron = surfaceMaterial(mottled([0.13, 0.14, 0.15], [0.38, 0.2, 0.1], 0.43, 15, 37), [1, 4], 3);
  scene.add(bar(HOOK.clone().add(at(0, 0.06, 0)), HOOK, 0.014, iron));
  const rope = surfaceMaterial(mottled([0.55, 0.47, 0.34], [0.35, 0.28, 0.18], 0.5, 18, 39), [6, 1], 3);
  const loop = new THREE.CatmullRomCurve3([at(-1.6, 2.1, -1.4), at(-1.45, 1.35, -1.4), at(-1.2, 1.15, -1.38), at(-0.95, 1.4, -1.4), at(-0.85, 2.1, -1.4)]);
  scene.add(shaded(new THREE.Mesh(new THREE.TubeGeometry(loop, 50, 0.035, 10), rope)));
  const oar = placed(new THREE.CylinderGeometry(0.03, 0.03, 2.6, 14), beam, 1.15, 1.2, -1.38);
  oar.rotation.z = 0.16;
  const blade = placed(new THREE.BoxGeometry(0.19, 0.6, 0.03), beam, 0.98, 2.2, -1.38);
  blade.rotation.z = 0.16;
  scene.add(oar, blade);
  for (let i = -3; i <= 3; i++) {
    scene.add(bar(at(i * 0.36 + 0.1, 0, 0.25), at(i * 0.36 + 0.1, 1.52, 0.25), 0.021, iron));
    scene.add(
      placed(new THREE.ConeGeometry(0.034, 0.12, 12), iron, i * 0.36 + 0.1, 1.72, 0.25),
      placed(new THREE.SphereGeometry(0.032, 12, 10), iron, i * 0.36 + 0.1, 1.64, 0.25),
    );
  }
  for (const y of [0.72, 1.55]) scene.add(placed(new THREE.BoxGeometry(4, 0.05, 0.035), iron, 0, y, 0.25));

  const { group, glass } = lantern();
  scene.add(group);
  const glow = new THREE.PointLight(0xffa04a, 1.6, 5, 1.8);
  scene.add(glow);
  const home = at(3, 6, 6);
  const key = sun(0xb9cbe8, 1.7, home, 3.2);
  key.target.position.set(0, 1.2, -0.8);
  const sky = new THREE.HemisphereLight(0x9fb4d0, 0x4a4038, 0.85);
  scene.add(sky, key, key.target);
  const camera = new THREE.PerspectiveCamera(30, 16 / 9, 0.1, 40);
  camera.position.set(0.15, 1.42, 3.5);
  camera.lookAt(0.05, 1.36, -0.5);
  camera.updateMatrixWorld();

  return {
    scene,
    camera,
    subject: group,
    frames: FRAMES,
    focus: 3.95,
    aperture: 0.008,
    exposure: 1.55,
    lights: [{ light: key, radius: 0.5, home }],
    marks: [
      { name: 'wire-cross', on: group, at: at(0, -0.57, 0.096) },
      { name: 'base', on: group, at: at(0.03, -0.8, 0.156) },
      { name: 'cap', on: group, at: at(0, -0.29, 0.058) },
    ],
    pose(time) {
      const { swing, sway, turn } = lanternSwing(time);
      group.rotation.set(sway, turn, swing);
      const flicker = 1 + 0.12 * Math.sin(time * 1.7) * Math.sin(time * 0.61) + 0.06 * Math.sin(time * 2.9);
      glass.emissiveIntensity = 0.75 * flicker;
      glow.intensity = 1.6 * flicker;
      group.updateMatrixWorld();
      glow.position.copy(at(0, -0.57, 0.16).applyMatrix4(group.matrixWorld));
    },
  };
}
