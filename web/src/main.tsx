import '@fontsource/atkinson-hyperlegible-next/400.css';
import '@fontsource/atkinson-hyperlegible-next/700.css';
import '@fontsource/spline-sans-mono/400.css';
import '@fontsource/spline-sans-mono/600.css';
import './styles.css';

import { QueryClientProvider } from '@tanstack/react-query';
import { App as AntApp, ConfigProvider } from 'antd';
import { StrictMode } from 'react';
import { createRoot } from 'react-dom/client';
import { BrowserRouter } from 'react-router';

import { newQueries } from './app/queries';
import { Routes } from './app/Routes';
import { theme } from './theme';

const queries = newQueries();

const root = document.getElementById('root');
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ConfigProvider theme={theme} wave={{ disabled: true }}>
        <AntApp>
          <QueryClientProvider client={queries}>
            <BrowserRouter>
              <Routes />
            </BrowserRouter>
          </QueryClientProvider>
        </AntApp>
      </ConfigProvider>
    </StrictMode>,
  );
}
