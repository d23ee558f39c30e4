import '@fontsource-variable/archivo/standard.css';
import '@fontsource-variable/jetbrains-mono/index.css';
import { createRoot } from 'react-dom/client';
import { Provider } from 'react-redux';
import { App } from './app/App.tsx';
import { Boundary } from './app/Boundary.tsx';
import { store } from './app/store.ts';
import './app/jasmorphe.css';

createRoot(document.getElementById('root')!).render(
  <Provider store={store}>
    <Boundary of="The page">
      <App />
    </Boundary>
  </Provider>,
);
