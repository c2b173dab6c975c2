package main

import "errors"

type serveCommand struct{}

func (serveCommand) Run(s streams) error { return errors.New("x") }

type demoCommand struct{}

func (demoCommand) Run(s streams) error { return errors.New("x") }
