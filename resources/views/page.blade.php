<!doctype html>
<html lang="en">
<head>
    <meta charset="utf-8">
    <meta name="viewport" content="width=device-width, initial-scale=1">
    <meta name="color-scheme" content="light dark">
    <title>Zap Trace</title>
    <link rel="icon" href="/icon.svg" type="image/svg+xml">
    @viteReactRefresh
    @vite('resources/js/main.tsx')
</head>
<body>
    <div id="bench"></div>
    <noscript>Zap Trace needs JavaScript in this browser.</noscript>
</body>
</html>
