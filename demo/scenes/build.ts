/** Small builders shared by the scenes: tubes between points, placed meshes, sky light. */
import * as THREE from 'three';

/** A round bar from `a` to `b` (metres). */
export function bar(a: THREE.Vector3, b: THREE.Vector3, radius: number, material: THREE.Material, radiusEnd = radius): THREE.Mesh {
  const length = a.distanceTo(b);
  const mesh = new THREE.Mesh(new THREE.CylinderGeometry(radiusEnd, radius, length, 14), material);
  layBar(mesh, a, b);
  return shaded(mesh);
}

/** Lays a cylinder made by `bar` between two points again. */
export function layBar(mesh: THREE.Object3D, a: THREE.Vector3, b: THREE.Vector3): void {
  mesh.position.copy(a).add(b).multiplyScalar(0.5);
  mesh.quaternion.setFromUnitVectors(new THREE.Vector3(0, 1, 0), b.clone().sub(a).normalize());
}

export function shaded<T extends THREE.Object3D>(object: T): T {
  object.traverse((o) => {
    o.castShadow = true;
    o.receiveShadow = true;
  });
  return object;
}

export function placed(geometry: THREE.BufferGeometry, material: THREE.Material, x: number, y: number, z: number): THREE.Mesh {
  const mesh = new THREE.Mesh(geometry, material);
  mesh.position.set(x, y, z);
  return shaded(mesh);
}

export const at = (x: number, y: number, z: number) => new THREE.Vector3(x, y, z);

/** Sun with a shadow map that covers `extent` metres round the origin. */
export function sun(colour: number, intensity: number, from: THREE.Vector3, extent: number): THREE.DirectionalLight {
  const light = new THREE.DirectionalLight(colour, intensity);
  light.position.copy(from);
  light.castShadow = true;
  light.shadow.mapSize.set(2048, 2048);
  Object.assign(light.shadow.camera, { left: -extent, right: extent, top: extent, bottom: -extent, near: 0.5, far: 60 });
  light.shadow.bias = -0.0006;
  light.shadow.normalBias = 0.012;
  return light;
}
