"""Headless Chromium through ChromeDriver, with the flags a closed machine needs."""

from __future__ import annotations

import atexit
import os
import shutil
import tempfile
from pathlib import Path

from selenium import webdriver
from selenium.common.exceptions import WebDriverException
from selenium.webdriver.chrome.service import Service

# A busy machine takes longer, to start a browser and to answer: nothing is given up before this many seconds.
PATIENCE = float(os.environ.get("WENDRICK_PATIENCE", "300"))

CHROMIUM, DRIVER = Path("/usr/bin/chromium"), Path("/usr/bin/chromedriver")
FLAGS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--force-device-scale-factor=1",
    "--hide-scrollbars",
    "--force-prefers-reduced-motion",
)


def open_browser(width: int = 1280, height: int = 800, downloads: Path | None = None) -> webdriver.Chrome:
    """A new browser with an empty profile and exactly this viewport."""
    options = webdriver.ChromeOptions()
    options.binary_location = str(CHROMIUM)
    for flag in FLAGS:
        options.add_argument(flag)
    profile = tempfile.mkdtemp(prefix="wendrick-browser-")
    options.add_argument(f"--user-data-dir={profile}")
    options.add_argument(f"--window-size={width},{height}")
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    if downloads is not None:
        options.add_experimental_option(
            "prefs", {"download.default_directory": str(downloads), "download.prompt_for_download": False}
        )
    atexit.register(shutil.rmtree, profile, True)
    driver = _started(options)
    driver.set_script_timeout(PATIENCE)
    driver.command_executor.client_config.timeout = int(2 * PATIENCE)  # type: ignore[union-attr]
    driver.execute_cdp_cmd(
        "Emulation.setDeviceMetricsOverride",
        {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False},
    )
    return driver


def _started(options: webdriver.ChromeOptions) -> webdriver.Chrome:
    """A browser; one that did not come up in time on a busy machine is started again, twice at most."""
    for more in (True, True, False):
        try:
            return webdriver.Chrome(options=options, service=Service(str(DRIVER)))
        except WebDriverException:
            if not more:
                raise
    raise AssertionError("unreachable")
