<template>
  <main class="sheet">
    <div class="empty">
      <h1>There is nothing at this address</h1>
      <p>The link may be old, or a letter is missing.</p>
      <div class="btns"><v-btn variant="flat" to="/today">To Today</v-btn></div>
    </div>
  </main>
</template>
