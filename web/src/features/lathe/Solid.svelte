<script lang="ts">
  import { BufferAttribute, BufferGeometry, DoubleSide, HemisphereLight, DirectionalLight, Mesh, MeshStandardMaterial, PerspectiveCamera, Scene, WebGLRenderer } from 'three'
  import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js'
  import type { Shapes } from '$lib/api/client'

  /** The piece in the round, green to dried; drawn only when something moves. Where the screen cannot, a sentence stands instead. */
  interface Props {
    mesh: Shapes['MeshOut']
  }
  let { mesh }: Props = $props()
  let canvas = $state<HTMLCanvasElement>()
  let share = $state(1)
  let turning = $state(false)
  let unable = $state(false)
  let moisture = $derived(mesh.green_pct + (mesh.dried_pct - mesh.green_pct) * share)

  interface Stage { draw: () => void; reshape: (points: Float32Array) => void; turn: (by: number) => void; end: () => void }
  let stage = $state.raw<Stage | undefined>()

  function upright(flat: readonly number[]): Float32Array {
    const out = new Float32Array(flat.length)
    for (let k = 0; k < flat.length; k += 3) {
      out[k] = (flat[k] ?? 0) / 100
      out[k + 1] = (flat[k + 2] ?? 0) / 100
      out[k + 2] = -(flat[k + 1] ?? 0) / 100
    }
    return out
  }
  let green = $derived(upright(mesh.green))
  let dried = $derived(upright(mesh.dried))
  let points = $derived(green.map((v, k) => v + ((dried[k] ?? v) - v) * share))

  $effect(() => {
    if (!canvas) return
    let renderer: WebGLRenderer
    try {
      renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true })
    } catch {
      unable = true
      return
    }
    const scene = new Scene()
    const camera = new PerspectiveCamera(35, 1, 0.1, 100)
    camera.position.set(0, 3.2, 6)
    const sun = new DirectionalLight(0xffffff, 2.2)
    sun.position.set(3, 5, 4)
    scene.add(new HemisphereLight(0xffffff, 0x8a7355, 1.5), sun)
    const shape = new BufferGeometry()
    shape.setIndex([...mesh.triangles])
    const body = new Mesh(shape, new MeshStandardMaterial({ color: 0xb98d5a, roughness: 0.75, side: DoubleSide }))
    scene.add(body)
    const controls = new OrbitControls(camera, canvas)
    const draw = () => {
      const box = canvas!.parentElement!.getBoundingClientRect()
      renderer.setSize(box.width, 352, false)
      camera.aspect = box.width / 352
      camera.updateProjectionMatrix()
      renderer.render(scene, camera)
    }
    controls.addEventListener('change', draw)
    stage = {
      draw,
      reshape(next) {
        shape.setAttribute('position', new BufferAttribute(next, 3))
        shape.computeVertexNormals()
        shape.computeBoundingSphere()
        const sphere = shape.boundingSphere
        if (sphere) {
          controls.target.copy(sphere.center)
          const way = camera.position.clone().sub(sphere.center).normalize()
          camera.position.copy(sphere.center).addScaledVector(way, sphere.radius * 3.3)
          controls.update()
        }
        draw()
      },
      turn(by) {
        body.rotation.y += by
        draw()
      },
      end() {
        controls.dispose()
        shape.dispose()
        renderer.dispose()
      },
    }
    return () => stage?.end()
  })
  $effect(() => stage?.reshape(points))
  $effect(() => {
    if (!turning || !stage) return
    let frame = requestAnimationFrame(function go() {
      stage?.turn(0.006)
      frame = requestAnimationFrame(go)
    })
    return () => cancelAnimationFrame(frame)
  })
</script>

<div class="mt-3">
  {#if unable}
    <p class="caution note"><strong>Note.</strong> This screen cannot turn solids; the still drawing above shows the same shape.</p>
  {:else}
    <canvas bind:this={canvas} class="solid" aria-label="The piece in the round at {moisture.toFixed(0)} % moisture"></canvas>
    <label class="slider"><span>Moisture: <strong>{moisture.toFixed(0)} %</strong>{share === 0 ? ', green' : ''}</span>
      <input type="range" min="0" max="1" step="0.02" bind:value={share} aria-label="From green to dried" /></label>
    <button class="btn" aria-pressed={turning} onclick={() => (turning = !turning)}>{turning ? 'Hold still' : 'Turn slowly'}</button>
    <p class="quiet text-sm">Between green and dried the movement is drawn in step with the moisture lost. Above 30 % nothing moves.</p>
  {/if}
</div>
