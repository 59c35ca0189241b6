<template>
  <main class="page">
    <h1>There is nothing at this address</h1>
    <p>It may have been deleted. <RouterLink to="/">Go to the projects</RouterLink>.</p>
  </main>
</template>
