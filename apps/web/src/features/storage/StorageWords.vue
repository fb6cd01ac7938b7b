<template>
  <span>
    blocks of
    <b>4 × 4</b>
    <small>BC1 … BC7</small>
  </span>
</template>
