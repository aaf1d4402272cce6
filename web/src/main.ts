import { mount } from 'svelte'
import App from './App.svelte'
import './app.css'

const target = document.getElementById('app')
if (target) mount(App, { target })

// Screens open without the server; weights wait on the device. Only where the browser allows it.
if (import.meta.env.PROD && 'serviceWorker' in navigator) {
  window.addEventListener('load', () => {
    navigator.serviceWorker.register('/static/sw.js', { scope: '/' }).catch(() => undefined)
  })
}
