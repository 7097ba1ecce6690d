"""Peak: what a screen can give in HDR. It stands where Levels stand in SDR."""
