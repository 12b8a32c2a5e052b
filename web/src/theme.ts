// The colours of the bench sheet, set once as Ant Design tokens.
import type { ThemeConfig } from 'antd';

export const paper = '#F6F1E7';
export const panel = '#FBF8F1';
export const rule = '#D9CFBD';
export const ink = '#1F2A33';
export const quiet = '#6B6558';
export const copper = '#B4602A';
export const verdigris = '#1E6F5C';
export const brick = '#A2362B';
export const slate = '#33475B';

export const theme: ThemeConfig = {
  token: {
    colorPrimary: copper,
    // What is under the pointer is read as well as what is not.
    colorPrimaryHover: '#8A4519',
    colorErrorHover: '#82271E',
    colorSuccess: verdigris,
    colorError: brick,
    colorInfo: slate,
    colorLink: '#8A4519',
    colorText: ink,
    colorTextSecondary: quiet,
    colorTextTertiary: quiet,
    colorTextDescription: quiet,
    colorTextPlaceholder: quiet,
    colorBgBase: panel,
    colorBgLayout: paper,
    colorBgContainer: '#FFFFFF',
    colorBorder: rule,
    colorBorderSecondary: rule,
    fontFamily: "'Atkinson Hyperlegible Next', sans-serif",
    fontFamilyCode: "'Spline Sans Mono', monospace",
    fontSize: 14,
    borderRadius: 6,
    boxShadow: 'none',
    boxShadowSecondary: '0 0 0 1px #D9CFBD',
    motion: false,
  },
  components: {
    Segmented: { itemSelectedBg: ink, itemSelectedColor: '#FFFFFF', trackBg: '#FFFFFF', itemColor: ink },
    Button: { primaryShadow: 'none', defaultShadow: 'none', defaultHoverColor: '#8A4519' },
  },
};
