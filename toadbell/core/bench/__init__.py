"""What happens while pumping: water, wall and air; and a simulated rig to practise on."""
