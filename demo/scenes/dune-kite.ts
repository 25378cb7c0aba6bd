/** "The kite over the dunes": filmed hand-held; the kite turns, comes near and dives; its frayed tail follows it. */
import * as THREE from 'three';
import { fractalNoise, valueNoise } from '../noise.ts';
import { mottled, surfaceMaterial } from '../textures.ts';
import { at, bar, shaded, sun } from './build.ts';
import type { Scene } from './scene.ts';

const FRAMES = 60;

function cloth(): THREE.MeshStandardMaterial {
  const canvas = document.createElement('canvas');
  canvas.width = canvas.height = 1024;
  const c = canvas.getContext('2d') as CanvasRenderingContext2D;
  c.fillStyle = '#c9922e';
  c.fillRect(0, 0, 1024, 1024);
  c.fillStyle = '#27484f';
  c.fillRect(0, 0, 512, 480);
  c.fillRect(512, 480, 512, 544);
  c.strokeStyle = '#e4dcc4';
  c.lineWidth = 22;
  for (let i = 0; i < 4; i++) {
    c.beginPath();
    c.arc(512, 480, 90 + i * 70, i * 0.9, i * 0.9 + 4.4);
    c.stroke();
  }
  const image = c.getImageData(0, 0, 1024, 1024);
  for (let p = 0; p < 1024 * 1024; p++) {
    const [x, y] = [p % 1024, Math.floor(p / 1024)];
    const shade = 0.8 + 0.4 * fractalNoise(x / 60, y / 60, 131, 5) + (fractalNoise(x / 5, y / 5, 132, 2) - 0.5) * 0.16;
    for (let k = 0; k < 3; k++) image.data[4 * p + k] = Math.min(255, image.data[4 * p + k] * shade);
  }
  c.putImageData(image, 0, 0);
  const map = new THREE.CanvasTexture(canvas);
  map.colorSpace = THREE.SRGBColorSpace;
  return new THREE.MeshStandardMaterial({ map, roughness: 0.85, side: THREE.DoubleSide });
}

/** A diamond of cloth on two spars, its nose up; a metre and a half long. */
function kite() {
  const group = new THREE.Group();
  const sail = new THREE.BufferGeometry();
  const corners = [0, 0.62, 0, 0.52, 0.12, -0.05, 0, -0.88, 0, -0.52, 0.12, -0.05, 0, 0.12, 0.03];
  const uv = corners.flatMap((_, i) => (i % 3 === 0 ? [corners[i] / 1.2 + 0.5, (corners[i + 1] + 0.9) / 1.6] : []));
  sail.setAttribute('position', new THREE.Float32BufferAttribute(corners, 3));
  sail.setAttribute('uv', new THREE.Float32BufferAttribute(uv, 2));
  sail.setIndex([4, 1, 0, 4, 0, 3, 4, 3, 2, 4, 2, 1]);
  sail.computeVertexNormals();
  group.add(shaded(new THREE.Mesh(sail, cloth())));
  const spar = new THREE.MeshStandardMaterial({ color: 0x4a3b28, roughness: 0.8 });
  group.add(bar(at(0, 0.62, -0.01), at(0, -0.88, -0.01), 0.011, spar), bar(at(-0.52, 0.12, -0.05), at(0.52, 0.12, -0.05), 0.011, spar));
  const ribbon = new THREE.MeshStandardMaterial({ color: 0xd9cfb2, roughness: 0.95, side: THREE.DoubleSide });
  const tail = shaded(new THREE.Mesh(new THREE.BufferGeometry(), ribbon));
  group.add(tail);
  const bows = Array.from({ length: 9 }, (_, i) => {
    const bow = shaded(new THREE.Mesh(new THREE.ConeGeometry(0.05, 0.16, 5), ribbon));
    bow.rotation.z = Math.PI / 2 + (i % 2) * 0.6;
    group.add(bow);
    return bow;
  });
  return {
    group,
    pose(time: number) {
      const wave = Array.from({ length: 14 }, (_, i) =>
        at(0.05 * i * Math.sin(time * 0.32 - i * 0.62), -0.88 - i * 0.135, 0.04 * i * Math.cos(time * 0.27 - i * 0.5)),
      );
      const curve = new THREE.CatmullRomCurve3(wave);
      tail.geometry.dispose();
      tail.geometry = new THREE.TubeGeometry(curve, 60, 0.016, 5);
      bows.forEach((bow, i) => {
        bow.position.copy(curve.getPoint((i + 1) / 10));
      });
    },
  };
}

export function duneKite(): Scene {
  const scene = new THREE.Scene();
  scene.background = new THREE.Color(0.44, 0.58, 0.72);
  const clouds = surfaceMaterial(
    (u, v) => {
      const n = fractalNoise(u * 9, v * 5, 141, 6, 9);
      const k = Math.max(0, Math.min(1, (n - 0.42) * 4)) * Math.min(1, v * 1.4 + 0.2);
      return { r: 0.5 + 0.44 * k, g: 0.64 + 0.31 * k, b: 0.8 + 0.16 * k, height: 0.5, rough: 1 };
    },
    [2, 1],
    0,
    1024,
  );
  const sky = new THREE.Mesh(new THREE.PlaneGeometry(120, 46), new THREE.MeshBasicMaterial({ map: clouds.map, fog: false }));
  sky.position.set(0, 16, -50);
  scene.add(sky);
  const sand = surfaceMaterial(
    (u, v) => {
      const ripple = Math.sin((v * 90 + fractalNoise(u * 8, v * 8, 143, 3, 8) * 7) * Math.PI) * 0.5;
      const n = fractalNoise(u * 40, v * 40, 144, 5, 40) - 0.5;
      const s = 1 + ripple * 0.12 + n * 0.5;
      return { r: 0.72 * s, g: 0.62 * s, b: 0.44 * s, height: 0.5 + ripple * 0.3 + n * 0.4, rough: 0.95 };
    },
    [5, 4],
    5,
    1024,
  );
  const heightAt = (x: number, z: number) => 2.6 * fractalNoise(x / 7 + 40, z / 5 + 40, 145, 3) - 1.5 - 0.05 * z;
  const dunes = new THREE.PlaneGeometry(70, 50, 140, 110);
  dunes.rotateX(-Math.PI / 2);
  const places = dunes.attributes.position;
  for (let i = 0; i < places.count; i++) places.setY(i, heightAt(places.getX(i), places.getZ(i) - 19));
  dunes.computeVertexNormals();
  const ground = new THREE.Mesh(dunes, sand);
  ground.position.z = -19;
  ground.receiveShadow = true;
  scene.add(ground);
  const grass = surfaceMaterial(mottled([0.34, 0.4, 0.2], [0.5, 0.46, 0.26], 0.5, 8, 146), [1, 1]);
  for (let i = 0; i < 260; i++) {
    const x = (valueNoise(i * 3.7, 1, 147) - 0.5) * 34;
    const z = -9 - valueNoise(i * 5.1, 2, 148) * 16;
    const lean = (valueNoise(i * 2.3, 3, 149) - 0.5) * 0.5;
    const foot = at(x, heightAt(x, z) - 0.05, z);
    scene.add(bar(foot, foot.clone().add(at(lean, 0.5 + 0.5 * valueNoise(i * 1.9, 4, 150), 0.1)), 0.028, grass, 0.004));
  }

  const flown = kite();
  scene.add(flown.group);
  const home = at(6, 9, 4);
  const key = sun(0xfff2dc, 3.4, home, 10);
  scene.add(new THREE.HemisphereLight(0xd8e6f4, 0x8a7a58, 1.2), key, key.target);
  const camera = new THREE.PerspectiveCamera(36, 16 / 9, 0.1, 120);
  const world = new THREE.Group();
  scene.add(world);
  const onSand = (x: number, z: number) => at(x, heightAt(x, z), z);

  return {
    scene,
    camera,
    subject: flown.group,
    frames: FRAMES,
    focus: 8.5,
    aperture: 0.004,
    exposure: 0.9,
    lights: [{ light: key, radius: 0.4, home }],
    marks: [
      { name: 'nose', on: flown.group, at: at(0, 0.62, 0) },
      { name: 'right-tip', on: flown.group, at: at(0.52, 0.12, -0.05) },
      { name: 'left-tip', on: flown.group, at: at(-0.52, 0.12, -0.05) },
      { name: 'foot', on: flown.group, at: at(0, -0.88, 0) },
      { name: 'cross', on: flown.group, at: at(0, 0.12, 0.03) },
      { name: 'dune-left', on: world, at: onSand(-2.2, -11) },
      { name: 'dune-middle', on: world, at: onSand(0.8, -10) },
      { name: 'dune-right', on: world, at: onSand(3.1, -12) },
    ],
    pose(time) {
      const t = time / FRAMES;
      flown.group.position.set(-1.9 + 3.9 * t + 0.5 * Math.sin(t * 9), 2.35 + 0.75 * Math.sin(t * 7.2 + 0.6), -2.6 + 1.9 * Math.sin(t * 4.4));
      flown.group.rotation.set(-0.25 + 0.12 * Math.sin(t * 11), 0.45 * Math.sin(t * 8 + 1), 0.55 * Math.sin(t * 6.4 + 0.4));
      flown.pose(time);
      const shake = (seed: number, pace: number) => valueNoise(time / pace, seed, 151) + 0.35 * valueNoise(time / (pace / 3), seed, 152) - 0.675;
      camera.position.set(0.1 * shake(1, 12), 1.5 + 0.08 * shake(2, 10), 6.2);
      camera.lookAt(-0.45 + 0.9 * t + 0.5 * shake(3, 8), 2.05 + 0.42 * shake(4, 7), -3);
      camera.rotateZ(0.05 * shake(5, 11));
      camera.updateMatrixWorld();
    },
  };
}
