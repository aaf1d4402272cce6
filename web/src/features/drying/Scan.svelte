<script lang="ts">
  import { tagOfCode } from './shelf.svelte'

  /** Looks through the camera for a tag's code. */
  interface Props {
    onfound: (tag: string) => void
    onclose: () => void
  }
  let { onfound, onclose }: Props = $props()
  let video = $state<HTMLVideoElement>()
  let trouble = $state('')

  $effect(() => {
    let stream: MediaStream | undefined
    let stopped = false
    let timer = 0
    async function look() {
      try {
        const { default: read } = await import('jsqr')
        stream = await navigator.mediaDevices.getUserMedia({ video: { facingMode: 'environment' } })
        if (stopped || !video) return stream.getTracks().forEach((t) => t.stop())
        video.srcObject = stream
        await video.play()
        const canvas = document.createElement('canvas')
        const pen = canvas.getContext('2d', { willReadFrequently: true })
        timer = window.setInterval(() => {
          if (!video || !pen || !video.videoWidth) return
          canvas.width = video.videoWidth
          canvas.height = video.videoHeight
          pen.drawImage(video, 0, 0)
          const found = read(pen.getImageData(0, 0, canvas.width, canvas.height).data, canvas.width, canvas.height)
          const tag = found && tagOfCode(found.data)
          if (tag) onfound(tag)
        }, 250)
      } catch {
        trouble = 'The camera cannot be used here: it wants your leave, and an address that begins with https or this very machine. Type the tag instead.'
      }
    }
    void look()
    return () => {
      stopped = true
      clearInterval(timer)
      stream?.getTracks().forEach((t) => t.stop())
    }
  })
</script>

<div class="scan">
  {#if trouble}<p class="wrong" role="alert">{trouble}</p>
  {:else}<video bind:this={video} playsinline muted aria-label="What the camera sees"></video>{/if}
  <button type="button" class="btn" onclick={onclose}>Close the camera</button>
</div>
