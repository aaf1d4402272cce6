<script lang="ts"></script>

<h1>Nothing is kept here</h1>
<p class="my-3">That address leads nowhere. <a class="link" href="#/">Back to Today</a>.</p>
