package main

func shippedLooks() []listed { return nil }
