declare global {
  namespace App {
    interface PageData {
      readonly title?: string;
    }
  }
}

export {};
