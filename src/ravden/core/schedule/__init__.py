"""The whole shop: who does what when, so that promises hold and nobody changes the gun twice a day for nothing."""
