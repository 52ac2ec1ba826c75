interface Named {
  release_title: string;
  format: { name: string };
}

/** Where a page about a format lies. */
export function formatCrumbs(data: Named, release: string, format: string, name: string) {
  return [
    { name: "Products", to: "/products" },
    { name: data.release_title, to: `/products/${release}` },
    { name: data.format.name, to: `/products/${release}/${format}` },
    { name },
  ];
}
