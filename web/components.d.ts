// For the compiler that cannot read components: vue-tsc checks what they are.
declare module '*.vue' {
  import type { Component } from 'vue';
  const component: Component;
  export default component;
}
